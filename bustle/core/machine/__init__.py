"""The walker as arrays, without a motion."""
