"""Direct drive: the joint sits on the servo's shaft. servo = joint − centre."""

from bustle.core.servo.drives.drive import DriveKind

DIRECT = DriveKind(
    name="direct",
    label="Direct",
    servos=1,
    joints=1,
    to_servos=lambda joints, centres: joints - centres,
)
