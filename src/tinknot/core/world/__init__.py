"""What is really there, moment by moment, while a plan is worked: the cable's ends, the things on it, its
surfaces, its heat, what conducts, what is covered. It judges a plan by the laws of the work and knows
nothing of what steps declare as needed."""
