"""The world that plays plans: its laws on scenes that no recipe made, on spoilt plans, and on every order."""
