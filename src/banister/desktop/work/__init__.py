"""What runs in the processes beside the window: no Qt here, so that they start at once and stay small."""
