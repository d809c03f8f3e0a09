"""Quick sums without a job."""
