"""Parts in stock, one module a kind: its figures, what is checked, how stock counts it and lists write it."""
