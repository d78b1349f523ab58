"""Whatever evaluates many times: bands, sets, sways, remedies."""
