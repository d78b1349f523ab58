"""What would hold up a request: one pool of worker processes for the whole server, and the way to it.

The office (`office`) is a process of its own that holds the pool; web workers ask it through `client`. A job says whose
it is (a window) and for which draft (a number): a newer number, or the window's closing, ends it, whichever web worker
hears of that.
"""
