"""What one can do with gear, each in one transaction."""

from __future__ import annotations

from django.db import transaction

from coldstack.server.gear.models import RcModel
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn


@transaction.atomic
def save_job(slug: str, job: JobIn) -> RcModel:
    """Keep a model's job, after the core has accepted it.

    Raises
    ------
    DomainError
        For figures that cannot be.
    RcModel.DoesNotExist
        For an unknown model.
    """
    job_of(job)
    model = RcModel.objects.select_for_update().get(slug=slug)
    model.job = job.model_dump(mode="json")
    model.save(update_fields=["job", "updated"])
    return model
