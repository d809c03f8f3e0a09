"""Runs of many years: candidates, kinds of system, the map of sizes, the band of weather."""
