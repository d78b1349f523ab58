"""What the pool's workers are forked with: the works, and what dry runs are stepped by, which takes long to load."""

from __future__ import annotations

from bustle.core.dry_run import steps as steps
from bustle.web.work import WORKS as WORKS
