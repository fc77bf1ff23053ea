"""The open study: plan, sittings, findings, ledgers of chairs, and the marks kept beside a full disk."""
