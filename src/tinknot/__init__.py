"""Tin Knot: measuring, choosing, building and recording heat-shrink cable joints."""

import os

__version__ = "0.1.0"

# The matrices here are small, and a server answers several people at once: threads of BLAS would only wait
# for each other (a bundle of 12 cores took 6 s instead of 0.2 s while other work ran). Another number stays.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("OMP_NUM_THREADS", "1")
