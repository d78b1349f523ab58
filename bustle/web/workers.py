"""What the pool's workers are forked with: the works, and what is compiled, which takes long to load."""

from __future__ import annotations

import gc

from bustle.core.dry_run import steps as steps
from bustle.core.geometry.compiled import ready
from bustle.web.work import WORKS as WORKS

# The web server tells what is waited for.
ready(lambda _: None)
# Nor is it looked through for what nobody holds.
gc.freeze()
