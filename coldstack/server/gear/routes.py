"""Models: list, read, keep the job."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router
from ninja.security import APIKeyCookie

from coldstack.server.api.errors import Problem
from coldstack.server.gear import actions
from coldstack.server.gear.models import RcModel
from coldstack.server.gear.schemas import ModelLine, ModelOut
from coldstack.server.sizing.schemas import JobIn

router = Router(tags=["gear"])


class FromOurPage(APIKeyCookie):
    """Writing is for our own page: the CSRF token must come with it. There is no login on a person's own machine."""

    param_name = "csrftoken"

    def authenticate(self, request: HttpRequest, key: str | None) -> bool:
        """The token itself was checked before."""
        return True


@router.get("/models", response=list[ModelLine], summary="The models one owns")
def models(request: HttpRequest) -> list[ModelLine]:
    """In the order of their owner."""
    rows = RcModel.objects.values("slug", "name", "description")
    return [ModelLine(**row) for row in rows]


@router.get("/models/{slug}", response={200: ModelOut, 404: Problem}, summary="One model with its job")
def model(request: HttpRequest, slug: str) -> ModelOut:
    """404 for an unknown model."""
    return _out(RcModel.objects.get(slug=slug))


@router.put(
    "/models/{slug}/job",
    response={200: ModelOut, frozenset({400, 403, 404, 422}): Problem},
    auth=FromOurPage(),
    summary="Keep a model’s job",
)
def keep_job(request: HttpRequest, slug: str, data: JobIn) -> ModelOut:
    """The whole job is replaced, in one transaction; nothing is kept if a figure cannot be."""
    return _out(actions.save_job(slug, data))


def _out(row: RcModel) -> ModelOut:
    return ModelOut(slug=row.slug, name=row.name, description=row.description, job=JobIn(**row.job))
