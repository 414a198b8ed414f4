"""The pond day: charging and runs on a time line, the plan of a pass, checks by phase, go or wait."""
