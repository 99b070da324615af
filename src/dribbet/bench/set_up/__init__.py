"""Set-up beyond the list of series: the rules of the bench."""
