"""Benchmarks, each as a ratio to a stated baseline measured in the same run."""
