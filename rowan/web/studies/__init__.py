"""Long runs beside the pages: what each is, its progress, its drawing."""
