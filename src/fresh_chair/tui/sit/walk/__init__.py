"""The walking screen of Sit: a reviewer alone, steps in any order; imports the parts of the live screen."""
