"""New layers from bands by role: indices, formulas, transforms, texture, stacks, class breaks."""
