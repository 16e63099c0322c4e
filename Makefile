# Ripasso: `make demo` starts the program with its demo library, `make test` runs everything CI runs.
# Both work from a bare Debian with Python 3.11 and later; the second start does no set-up.

PYTHON ?= python3
VENV := .venv
RUN := $(VENV)/bin/python
READY := $(VENV)/.ready

# What the Qt, film, vision and page libraries need of the system; tests/test_system_packages.py holds the list
# against what they link to.
SYSTEM_PACKAGES := \
	python3-venv \
	libegl1 libgl1 libglib2.0-0 libfontconfig1 libfreetype6 libdbus-1-3 libgssapi-krb5-2 \
	libx11-6 libx11-xcb1 libxkbcommon0 libxkbcommon-x11-0 \
	libxcb1 libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 \
	libxcb-render-util0 libxcb-render0 libxcb-shape0 libxcb-shm0 libxcb-sync1 libxcb-util1 \
	libxcb-xfixes0 libxcb-xkb1 libpulse0 \
	libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0 \
	xvfb xauth \
	desktop-file-utils appstream mandoc shared-mime-info

# Tests run without any network where the system lets us take it away; Python's sockets are refused anyway.
OFFLINE := $(shell unshare --net true 2>/dev/null && echo unshare --net)

# Where `make install` puts things: PREFIX=/usr/local for everybody. DESTDIR stands before it for packagers.
PREFIX ?= $(HOME)/.local
DATA := $(DESTDIR)$(PREFIX)/share
HOME_OF_PROGRAM := $(DESTDIR)$(PREFIX)/lib/ripasso

.PHONY: install install-data uninstall licences setup demo test bench screenshots accuracy study views habits mutants fuzz endurance catalogues facts schema lock packages clean

setup: $(READY)

packages:
	@missing=""; for p in $(SYSTEM_PACKAGES); do \
		dpkg-query -W -f '$${Status}' $$p 2>/dev/null | grep -q 'install ok installed' || missing="$$missing $$p"; \
	done; \
	if [ -n "$$missing" ]; then \
		echo "Installing:$$missing"; \
		if [ "$$(id -u)" = 0 ]; then SUDO=""; else SUDO="sudo"; fi; \
		export DEBIAN_FRONTEND=noninteractive; \
		$$SUDO apt-get update -qq && $$SUDO apt-get install -y -qq --no-install-recommends $$missing >/dev/null; \
	fi

$(READY): requirements/lock.txt pyproject.toml Makefile
	@$(MAKE) --no-print-directory packages
	@echo "Setting up $(VENV)"
	@$(PYTHON) -m venv $(VENV)
	@$(RUN) -m pip install -qq --disable-pip-version-check --require-hashes -r requirements/lock.txt
	@$(RUN) -m pip install -qq --disable-pip-version-check --no-build-isolation --no-deps --editable .
	@touch $(READY)

demo: setup
	@$(RUN) -m ripasso --demo

test: setup
	@$(OFFLINE) $(RUN) -m tests.run

bench: setup
	@$(RUN) -m benchmarks.run

screenshots: setup
	@QT_QPA_PLATFORM=offscreen $(RUN) -m tests.screenshots docs/screenshots

# The table of docs/reading-accuracy.md: renders six films, films them again as real ones are (half an hour),
# and reads them all.
accuracy: setup
	@QT_QPA_PLATFORM=offscreen $(RUN) -m tests.reading_table build/films docs/reading-accuracy.md

# The table of docs/reading-parameters.md: the two recordings beside the project, read sixty times.
study: setup
	@QT_QPA_PLATFORM=offscreen $(RUN) -m tests.reading_study docs/reading-parameters.md

# How right views by clicks are: eight cameras, 200 draws of 4, 6 and 10 points.
views: setup
	@$(RUN) -m tests.view_study

# The tables of docs/planted-habits.md: 1,000 libraries of invented players, twice.
habits: setup
	@$(RUN) -m tests.planted_study docs/planted-habits.md

# Sixty faults put into a copy of the source, one at a time: which of them do the tests not notice?
mutants: setup
	@QT_QPA_PLATFORM=offscreen $(RUN) -m tests.mutants

# Damaged input of every kind, made from numbers: make fuzz N=10000
fuzz: setup
	@$(RUN) -m tests.fuzz.run $(or $(N),1000)

# Four times 5,000 random steps, 300 starts with keys pressed, 1,000 kills: half an hour.
endurance: setup
	@export QT_QPA_PLATFORM=offscreen; for seed in 1 2 3 4; do $(RUN) -m tests.endurance.steps 5000 $$seed; done
	@$(RUN) -m tests.endurance.starts 300
	@QT_QPA_PLATFORM=offscreen $(RUN) -m tests.endurance.kills 1000

# The catalogues of texts, from what is marked in the source.
catalogues: setup
	@$(RUN) -m tests.catalogues

# docs/facts.md, from the schema of facts.
facts: setup
	@$(RUN) -m tests.facts_document docs/facts.md

schema: setup
	@$(RUN) -m ripasso schema > docs/ripasso-session.schema.json

# Needs uv: python3 -m pip install uv
lock:
	uv pip compile --quiet --generate-hashes --no-header --no-annotate --no-emit-index-url \
		--no-emit-find-links --python-version 3.11 requirements/dev.in -o requirements/lock.txt

# The program in an environment of its own, a command, and what a desktop wants to know of it.
install: packages install-data
	@mkdir -p $(HOME_OF_PROGRAM) $(DESTDIR)$(PREFIX)/bin
	@$(PYTHON) -m venv $(HOME_OF_PROGRAM)
	@sed -n 's/^\([A-Za-z0-9_.-]*==[^ ]*\).*/\1/p' requirements/lock.txt > $(HOME_OF_PROGRAM)/versions.txt
	@$(HOME_OF_PROGRAM)/bin/python -m pip install -qq --disable-pip-version-check \
		--constraint $(HOME_OF_PROGRAM)/versions.txt --upgrade .
	@ln -sf $(PREFIX)/lib/ripasso/bin/ripasso $(DESTDIR)$(PREFIX)/bin/ripasso
	@echo "ripasso is in $(PREFIX)/bin"

# Desktop entry, icon, file types, description for software shops, man page.
install-data:
	@install -Dm644 packaging/ripasso.desktop $(DATA)/applications/ripasso.desktop
	@install -Dm644 packaging/ripasso.svg $(DATA)/icons/hicolor/scalable/apps/ripasso.svg
	@install -Dm644 packaging/ripasso-mime.xml $(DATA)/mime/packages/ripasso.xml
	@install -Dm644 packaging/ripasso.metainfo.xml $(DATA)/metainfo/invalid.ripasso.Ripasso.metainfo.xml
	@install -Dm644 packaging/ripasso.1 $(DATA)/man/man1/ripasso.1
	@if command -v update-mime-database >/dev/null; then update-mime-database $(DATA)/mime; fi
	@if command -v update-desktop-database >/dev/null; then update-desktop-database -q $(DATA)/applications; fi

uninstall:
	@rm -rf $(HOME_OF_PROGRAM)
	@rm -f $(DESTDIR)$(PREFIX)/bin/ripasso $(DATA)/applications/ripasso.desktop \
		$(DATA)/icons/hicolor/scalable/apps/ripasso.svg $(DATA)/mime/packages/ripasso.xml \
		$(DATA)/metainfo/invalid.ripasso.Ripasso.metainfo.xml $(DATA)/man/man1/ripasso.1
	@if command -v update-mime-database >/dev/null; then update-mime-database $(DATA)/mime; fi

# docs/licences.md: what goes along with the program, and under which licence.
licences: setup
	@$(RUN) -m tests.licences docs/licences.md

clean:
	rm -rf $(VENV) .mypy_cache .ruff_cache
