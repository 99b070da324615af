"""From a question to recipes, panels, amounts and days."""
