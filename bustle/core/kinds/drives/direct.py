"""Direct drives: the joint sits on the servo's shaft."""

from bustle.core.kinds.drives.drive import DriveKind

DIRECT = DriveKind(
    name="direct",
    label="Direct",
    about="The joint sits on the shaft: servo = joint − centre.",
    servos=1,
    joints=1,
    to_servos=lambda joints, centres, _: joints - centres,
    to_joints=lambda servos, centres, _: servos + centres,
    linear=True,
)

RIDING = DriveKind(
    name="riding",
    label="Riding on the link",
    about="The servo's body moves with the link, its horn is fixed to the part before: servo = −(joint − centre).",
    servos=1,
    joints=1,
    to_servos=lambda joints, centres, _: centres - joints,
    to_joints=lambda servos, centres, _: centres - servos,
    sits="own",
    linear=True,
)
