"""The two manners of drawing: dimensions and welding symbols in the ISO or the AWS habit."""

ISO, AWS = "iso", "aws"
HABITS = {ISO: "ISO habit", AWS: "AWS habit"}
