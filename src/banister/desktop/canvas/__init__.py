"""Qt surfaces that display lists are painted on."""
