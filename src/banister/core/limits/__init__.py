"""What a joint is held against: windows, acceptance, procedure and welder documents, qualified ranges."""
