"""A box of sixty packs and eight models, of the demo's."""

from __future__ import annotations

from coldstack.server.gear.models import OwnedPack, RcModel

MODELS, PACKS = 8, 60


def crowd() -> None:
    """As many packs and models, each a little other than the one it was made of; to be taken back."""
    packs, models = list(OwnedPack.objects.all()), list(RcModel.objects.all())
    for k in range(PACKS - len(packs)):
        of = packs[k % len(packs)]
        of.pk, of.tag, of.name = None, f"B{k:02}", f"{of.name} B{k:02}"
        of.capacity_ah *= 1 + 0.001 * k
        of.save()
    for k in range(MODELS - len(models)):
        like = models[k % len(models)]
        like.pk, like.slug, like.name = None, f"{like.slug}-{k}", f"{like.name} {k}"
        like.save()
