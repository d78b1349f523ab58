"""Starting walkers: whole machines with motions from a kind and one length."""
