"""The steps of the stair, each with its panel at the right."""
