"""The Bench: calculators, tables to print, and the tables that a site adds."""
