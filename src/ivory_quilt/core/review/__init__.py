"""What is doubtful before foam is cut."""
