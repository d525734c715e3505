"""Parts that are printed: solids that are watertight by construction, and how they are divided for a printer's bed."""
