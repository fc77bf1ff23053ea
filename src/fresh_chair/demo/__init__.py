"""A made-up study to look at and to practise on: a scenario, its troubles, and a simulator of newcomers."""
