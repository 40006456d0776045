"""What the families of round low-voltage cable share."""
