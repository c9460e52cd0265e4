"""SQLite whose folder is made when it is first opened, and not when the settings are read."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.db.backends.sqlite3 import base


class DatabaseWrapper(base.DatabaseWrapper):
    """Django's own but for that."""

    def get_new_connection(self, conn_params: dict[str, Any]) -> Any:
        """A connection to the file, in a folder that is there."""
        name = self.settings_dict["NAME"]
        if isinstance(name, Path):
            name.parent.mkdir(parents=True, exist_ok=True)
        return super().get_new_connection(conn_params)
