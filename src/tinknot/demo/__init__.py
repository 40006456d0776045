"""The Skarn funicular: an invented site to try everything on."""
