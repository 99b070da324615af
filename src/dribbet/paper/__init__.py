"""What leaves on paper: cards at true size, and the report of a series. Drawn with reportlab."""
