"""`python -m tinknot`."""

from tinknot.cli import main

main()
