"""The app of the logbook: what is known of each pack over time."""

from django.apps import AppConfig


class LogbookConfig(AppConfig):
    """The keeping stage."""

    name = "coldstack.server.logbook"
    label = "logbook"

    def ready(self) -> None:
        """A charge that ends is kept as a record of its pack."""
        from coldstack.server.bench.watcher import charge_ended
        from coldstack.server.logbook.actions import keep_charge

        charge_ended.connect(
            lambda sender, charge, **_: keep_charge(charge), weak=False, dispatch_uid="logbook"
        )
