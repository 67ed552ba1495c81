"""The WSGI application."""

import os
import sys
from importlib import import_module
from threading import Thread

from django.core.wsgi import get_wsgi_application

# A long fix search shares the interpreter with the edits people make meanwhile: let those in ten times as often.
sys.setswitchinterval(0.0005)
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wavilex.server.config.settings")
application = get_wsgi_application()
# The solver of the best assignment and the tests of ranks take a second to load: have them ready before somebody asks.
Thread(target=lambda: [import_module(name) for name in ("scipy.optimize", "scipy.stats")], daemon=True).start()
