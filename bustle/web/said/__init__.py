"""What is asked of the server and what it answers, as it is checked and written down."""
