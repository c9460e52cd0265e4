"""The app of the logbook: what is known of each pack over time."""

from django.apps import AppConfig


class LogbookConfig(AppConfig):
    """The keeping stage."""

    name = "coldstack.server.logbook"
    label = "logbook"

    def ready(self) -> None:
        """Charges that end and readings at rest are kept as records of their packs."""
        from coldstack.server.bench.signals import charge_ended, pack_read
        from coldstack.server.gear.assemble import condemners
        from coldstack.server.logbook.actions import keep_charge, keep_reading
        from coldstack.server.logbook.assemble import condemned

        condemners.append(condemned)

        charge_ended.connect(lambda sender, charge, **_: keep_charge(charge), weak=False, dispatch_uid="logbook.charge")  # fmt: skip
        pack_read.connect(lambda sender, reading, **_: keep_reading(reading), weak=False, dispatch_uid="logbook.reading")  # fmt: skip
