"""Contents, pressures, vessel, steam and schools."""
