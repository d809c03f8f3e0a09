"""The practice bench: a training rig that behaves as a loop does when it is filled, tasks on it, and what a run was worth."""
