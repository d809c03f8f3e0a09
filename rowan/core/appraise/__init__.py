"""What needs the plan and its year: heat, money, hunting, hygiene. The third door, after reckon and simulate."""
