"""The windows of the place Prove."""
