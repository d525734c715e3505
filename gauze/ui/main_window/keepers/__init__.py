"""What keeps one part of the window in step with the design: tray, chart, versions, fixes, start, recovery."""
