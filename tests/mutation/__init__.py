"""Whether the tests notice: limits and comparisons of core changed, one at a time, under the tests that touch
them. Run by `bin/mutate`.
"""
