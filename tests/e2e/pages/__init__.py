"""Page objects: what a user can do on each page, with expectations that wait."""
