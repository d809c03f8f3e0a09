"""Jobs, plans, revisions, weather years of a firm, what is kept reckoned, and the services that change them."""
