# Everything a fresh machine needs is made here; nothing has to be installed by hand but Python 3.11+.
PYTHON ?= python3
VENV   := .venv
BIN    := $(VENV)/bin
DEMO   ?= build/tern-harbour.fresh

.PHONY: demo test lint bench shots generated clean
.DEFAULT_GOAL := demo

$(VENV)/.ready: pyproject.toml
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Fresh Chair needs Python 3.11 or newer; say which with make PYTHON=python3.12"; exit 1; }
	@test -x $(BIN)/python || $(PYTHON) -m venv $(VENV) || { echo "Python cannot make a virtual environment; on Debian: apt-get install python3-venv"; exit 1; }
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --editable '.[dev]'
	@touch $@

demo: $(VENV)/.ready
	@mkdir -p build
	@test -e $(DEMO) || $(BIN)/fresh-chair demo --to $(DEMO) --no-open
	$(BIN)/fresh-chair open $(DEMO)

test: $(VENV)/.ready
	$(BIN)/python -m pytest

lint: $(VENV)/.ready
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports

bench: $(VENV)/.ready
	$(BIN)/python -m bench

shots: $(VENV)/.ready
	tools/shots

# Documents made from the code; tests say when one is behind.
generated: $(VENV)/.ready
	$(BIN)/python -m tools.write_generated

clean:
	rm -rf $(VENV) build dist .pytest_cache .mypy_cache .ruff_cache
