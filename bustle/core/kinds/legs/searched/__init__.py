"""Joints of chains that no closed form tells, searched for."""
