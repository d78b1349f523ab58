"""One leg on the bench: where its foot can be, and whether it goes straight."""
