"""Servo types to begin with: generic, with numbers of the usual order. A builder's own sheet replaces them."""

from __future__ import annotations

from bustle.core.project.parts import AtVoltage, ServoType

SERVO_TYPES: tuple[ServoType, ...] = (
    ServoType(
        name="Micro servo, plastic gears", mass_g=9.0, stall_torque_nm=0.15, no_load_speed_deg_s=500.0, rated_v=4.8,
        travel_deg=180.0, play_deg=1.0, price=4.0, stall_current_a=0.7, running_current_a=0.2, idle_current_a=0.01,
        least_v=4.5, most_v=6.0, pulse_low_us=600.0, pulse_high_us=2400.0, us_per_deg=10.0, dead_band_us=6.0,
        spline_teeth=21, unpulsed="goes_limp",
    ),
    ServoType(
        name="Standard servo, metal gears", mass_g=56.0, stall_torque_nm=1.0, no_load_speed_deg_s=350.0, rated_v=6.0,
        travel_deg=180.0, play_deg=0.6, price=11.0, stall_current_a=2.0, running_current_a=0.5, idle_current_a=0.01,
        least_v=4.8, most_v=7.2, pulse_low_us=500.0, pulse_high_us=2500.0, us_per_deg=10.0, dead_band_us=4.0,
        spline_teeth=25, unpulsed="goes_limp",
    ),
    ServoType(
        name="Strong digital servo", mass_g=62.0, stall_torque_nm=2.4, no_load_speed_deg_s=420.0, rated_v=7.4,
        travel_deg=270.0, play_deg=0.4, price=18.0, stall_current_a=3.0, running_current_a=0.6, idle_current_a=0.02,
        least_v=5.0, most_v=8.4, at=(AtVoltage(volts=6.0, stall_torque_nm=2.0, no_load_speed_deg_s=350.0),),
        pulse_low_us=500.0, pulse_high_us=2500.0, us_per_deg=7.4, dead_band_us=2.0, spline_teeth=25, unpulsed="holds",
    ),
    ServoType(
        name="Bus servo that reads back", mass_g=55.0, stall_torque_nm=1.9, no_load_speed_deg_s=330.0, rated_v=7.4,
        travel_deg=300.0, play_deg=0.3, price=22.0, stall_current_a=2.7, running_current_a=0.3, idle_current_a=0.04,
        least_v=6.0, most_v=8.4, signal="bus", counts_per_turn=4096, middle_count=2048, reads_back=True,
        spline_teeth=25, unpulsed="holds",
    ),
)  # fmt: skip
