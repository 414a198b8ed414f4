"""What the runs taught, for every mark that forecasts."""
