"""The Flask application."""
