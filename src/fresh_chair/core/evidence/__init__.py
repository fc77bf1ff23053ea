"""The evidence a judgement rests on besides marks: hunches. Imports core.plan."""
