"""Hand over: the pack of papers, the page of whoever lives there, the diary."""
