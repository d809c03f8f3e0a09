"""What results are said in: units, quantities, expressions, figures, findings, sources, the calendar, and the core's errors."""
