"""One blueprint a resource."""
