"""Settings and the ways in."""

import os

# matrices here are small: where several requests or stages are worked at, threads of linear
# algebra stand in one another's way. Read when numpy is first loaded.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
