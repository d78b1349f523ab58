"""The drives. A new drive is one file here and one line in this registry."""

from bustle.core.servo.drives.direct import DIRECT
from bustle.core.servo.drives.drive import DriveKind

DRIVES: dict[str, DriveKind] = {kind.name: kind for kind in (DIRECT,)}

__all__ = ["DRIVES", "DriveKind"]
