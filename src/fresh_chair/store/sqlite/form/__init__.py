"""The form of a study file: recognised before it is opened, its version, its objects one by one."""
