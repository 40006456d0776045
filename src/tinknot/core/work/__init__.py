"""What happens at the joint: events, the fold, what is allowed and why not, clocks, faults and their
mending, the verdict."""
