"""The steps of the work: each a folder with formulas, result, stage, figures and findings. A step sees earlier steps' results."""
