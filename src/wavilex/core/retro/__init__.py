"""Old machines: their scan rates, how they are multiplied and converted, and the true shape of their picture."""
