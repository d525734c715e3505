"""Benchmarks that print figures."""
