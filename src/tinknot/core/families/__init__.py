"""One folder a family: what its file asks, how its stack is solved, drawn and told. The registry names
them."""
