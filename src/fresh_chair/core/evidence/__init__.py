"""What a judgement rests on besides marks: hunches. Imports core.plan."""
