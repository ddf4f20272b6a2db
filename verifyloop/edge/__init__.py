"""Between the product and those who ask: proxies, headers, the page, health, the log."""
