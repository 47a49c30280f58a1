"""All welds of a job in one list: a line each, alike ones planned once, totals and what to buy."""
