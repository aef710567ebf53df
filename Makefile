# Everything a fresh machine lacks is set up by `.venv/ready`; it needs Python 3.11, make and git.
PYTHON ?= $(shell command -v python3.11 || command -v python3)
RUN := .venv/bin/python

.PHONY: demo test deep check format screenshots rules-page keys-page bench clean tmux

demo: .venv/ready
	@.venv/bin/wise-ladder demo

test: .venv/ready tmux
	@$(RUN) -m tests

# Long seeded checks; each goes on where it stopped, and says in build/deep what it found.
deep: .venv/ready
	@$(RUN) -m tests.deep

check: .venv/ready tmux
	@.venv/bin/ruff format --check --quiet . || { echo "run make format"; exit 1; }
	@.venv/bin/ruff check --quiet .
	@.venv/bin/mypy
	@.venv/bin/lint-imports
	@$(RUN) -m tests

format: .venv/ready
	@.venv/bin/ruff format --quiet .
	@.venv/bin/ruff check --quiet --fix .

screenshots: .venv/ready
	@$(RUN) tools/screenshots.py docs/screenshots

rules-page: .venv/ready
	@$(RUN) tools/rules_page.py

keys-page: .venv/ready
	@$(RUN) tools/keys_page.py

bench: .venv/ready
	@$(RUN) tools/bench.py

tmux:
	@command -v tmux >/dev/null || sh tools/install-tmux

.venv/ready: pyproject.toml constraints.txt
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Wise Ladder needs Python 3.11 or newer"; exit 1; }
	@echo "setting up .venv, once"
	@$(PYTHON) -m venv .venv
	@$(RUN) -m pip install --quiet --disable-pip-version-check --constraint constraints.txt --editable '.[dev]'
	@touch .venv/ready

clean:
	rm -rf .venv build dist .mypy_cache .ruff_cache .hypothesis .import_linter_cache
