"""The interface: the only Qt in the house. It shows and asks; it computes nothing of the job."""
