"""A project: a walker, its motions, the parts they use and the builder's own limits. One file, one revision."""

from __future__ import annotations

from typing import Annotated, Any, Final, Literal

from pydantic import BeforeValidator, model_validator

from bustle.core.project.electrics import Electrics
from bustle.core.project.field_types import Name, Text, UpTo, Value, whole_number
from bustle.core.project.handling import Control, StartUp, Walked
from bustle.core.project.limits import Budget, Floor, Limits
from bustle.core.project.motion import Motion, PhaseGait
from bustle.core.project.parts import Controller, ServoType
from bustle.core.project.walker import Walker
from bustle.core.words.problems import refuse

FORMAT: Final = "bustle"
VERSION: Final = 12
MAX_ROWS = 12_000
MOST_MOTIONS = 64


class Project(Value):
    """A walker, its motions and the parts they use: one file, one revision.

    against_sag: whether what is sent makes up for how far the servos give under the weight, or under all that the
    motion takes. Its fields are sound one by one; whether they fit together, `document.checked` says.
    """

    format: Literal["bustle"] = FORMAT
    version: Annotated[Literal[12], BeforeValidator(whole_number)] = VERSION
    name: Name
    note: Text = ""
    walker: Walker
    motions: Annotated[tuple[Motion, ...], UpTo(MOST_MOTIONS)] = ()
    servo_types: Annotated[tuple[ServoType, ...], UpTo(40)] = ()
    controller: Controller = Controller()
    electrics: Electrics = Electrics()
    floor: Floor = Floor()
    against_sag: Literal["off", "static", "full"] = "off"
    start_up: StartUp = StartUp()
    walked: Annotated[tuple[Walked, ...], UpTo(64)] = ()
    controls: Annotated[tuple[Control, ...], UpTo(200)] = ()
    limits: Limits = Limits()
    budget: Budget = Budget()

    @model_validator(mode="before")
    @classmethod
    def _brought_up(cls, values: Any) -> Any:
        """Earlier versions had fewer fields and no others, so that they read as this one."""
        if isinstance(values, dict) and type(values.get("version")) is int and 1 <= values["version"] < VERSION:
            return {**values, "version": VERSION}
        return values

    def motion(self, name: str) -> Motion:
        """The motion of that name. Raises InputRefused naming those there are."""
        for motion in self.motions:
            if motion.name == name:
                return motion
        known = ", ".join(m.name for m in self.motions) or "none"
        raise refuse("motion", f"no motion is called {name!r}; this project has: {known}")


def gait_of(project: Project, name: str) -> PhaseGait:
    """The gait of that name. Raises InputRefused where the motion is of another kind."""
    motion = project.motion(name)
    if not isinstance(motion, PhaseGait):
        raise refuse("motion", f"{name} is no gait; it has no strides, phases or duties of its own to turn")
    return motion


def mounts_of(project: Project, gait: PhaseGait) -> list[tuple[float, float]]:
    """(x, y) of where each leg of the gait sits, mm, as the gait counts them."""
    at_mm = {limb.name: limb.mount.at_mm for limb in project.walker.limbs}
    return [at_mm[leg.limb][:2] for leg in gait.legs]


def fresh_name(project: Project, name: str) -> str:
    taken = {m.name.casefold() for m in project.motions}
    tries = [name, *(f"{name} {n}" for n in range(2, 100))]
    return next(t[:60] for t in tries if t[:60].casefold() not in taken)


def document(project: Project) -> dict[str, Any]:
    """The project as plain JSON values, in the order of the file."""
    return project.model_dump(mode="json")
