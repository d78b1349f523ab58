"""The web application: JSON and binary over HTTP on loopback, and the interface's files."""
