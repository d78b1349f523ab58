"""The foot paths. A new path is one file here and one line in this registry."""

from bustle.core.foot_paths.cycloid import CYCLOID
from bustle.core.foot_paths.foot_path import FootPath
from bustle.core.foot_paths.half_ellipse import HALF_ELLIPSE

FOOT_PATHS: dict[str, FootPath] = {path.name: path for path in (HALF_ELLIPSE, CYCLOID)}

__all__ = ["FOOT_PATHS", "FootPath"]
