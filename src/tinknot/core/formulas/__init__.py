"""Pure arithmetic of the job: every function says units, range, errors and source, and leans on nothing
else of the core."""
