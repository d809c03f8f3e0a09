"""The practice bench: runs on the training rig, their debrief, the learner's book."""
