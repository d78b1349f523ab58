"""The drives. A new drive is one file here and one line in this registry."""

from bustle.core.kinds.drives.direct import DIRECT, RIDING
from bustle.core.kinds.drives.drive import DriveKind, Setting
from bustle.core.kinds.drives.gear import CORD, GEAR
from bustle.core.kinds.drives.rack import RACK
from bustle.core.kinds.drives.rod import ROD
from bustle.core.kinds.drives.shared import PAIR_EQUAL, PAIR_MIRRORED, PARALLEL_ROD

DRIVES: dict[str, DriveKind] = {
    kind.name: kind for kind in (DIRECT, RIDING, GEAR, ROD, CORD, PARALLEL_ROD, PAIR_EQUAL, PAIR_MIRRORED, RACK)
}

__all__ = ["DRIVES", "DriveKind", "Setting"]
