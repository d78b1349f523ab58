"""The drives. A new drive is one file here and one line in this registry."""

from bustle.core.servo.drives.direct import DIRECT, RIDING
from bustle.core.servo.drives.drive import DriveKind, Setting
from bustle.core.servo.drives.gear import CORD, GEAR
from bustle.core.servo.drives.rod import ROD
from bustle.core.servo.drives.shared import PAIR_EQUAL, PAIR_MIRRORED, PARALLEL_ROD

DRIVES: dict[str, DriveKind] = {
    kind.name: kind for kind in (DIRECT, RIDING, GEAR, ROD, CORD, PARALLEL_ROD, PAIR_EQUAL, PAIR_MIRRORED)
}

__all__ = ["DRIVES", "DriveKind", "Setting"]
