"""The foot paths. A new path is one file here and one line in this registry."""

from bustle.core.kinds.foot_paths.bezier import BEZIER
from bustle.core.kinds.foot_paths.cycloid import CYCLOID
from bustle.core.kinds.foot_paths.foot_path import FootPath
from bustle.core.kinds.foot_paths.half_ellipse import HALF_ELLIPSE
from bustle.core.kinds.foot_paths.minimum_jerk import MINIMUM_JERK
from bustle.core.kinds.foot_paths.rectangle import RECTANGLE
from bustle.core.kinds.foot_paths.swing import Swing
from bustle.core.kinds.foot_paths.triangle import TRIANGLE

FOOT_PATHS: dict[str, FootPath] = {
    path.name: path for path in (HALF_ELLIPSE, CYCLOID, MINIMUM_JERK, RECTANGLE, TRIANGLE, BEZIER)
}

__all__ = ["FOOT_PATHS", "FootPath", "Swing"]
