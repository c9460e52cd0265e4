"""What is stored of practice: people by name, each answer, what is remembered by them, and courses.

Answers are the history, and are withdrawn, never deleted; a skill is what FSRS makes of those that stand,
kept so that nobody needs to go through years of them, and made anew from them at any time.
"""

from __future__ import annotations

from django.db import models


class PracticeCourse(models.Model):
    """A course of one's own: steps as ``[kind, level]`` in their order, and the house rules it goes by."""

    name = models.CharField(max_length=40)
    steps = models.JSONField(default=list)
    house_rules = models.CharField(max_length=60, blank=True)
    removed = models.DateTimeField(null=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.name


class PracticePerson(models.Model):
    """Somebody who practises here: a name, no account."""

    name = models.CharField(max_length=40)
    course = models.ForeignKey(PracticeCourse, null=True, on_delete=models.SET_NULL)
    made = models.DateTimeField()
    removed = models.DateTimeField(null=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return self.name


class PracticeAnswer(models.Model):
    """One answer; ``key`` is of the press that gave it: pressed again, it is the same. ``withdrawn`` with all
    others before it when somebody begins anew."""

    key = models.CharField(max_length=64, unique=True)
    person = models.ForeignKey(PracticePerson, related_name="said", on_delete=models.CASCADE)
    kind = models.CharField(max_length=20)
    level = models.CharField(max_length=12)
    seed = models.BigIntegerField()
    own = models.BooleanField(default=False)
    house_rules = models.CharField(max_length=60, blank=True)
    answers = models.JSONField(default=dict)
    outcome = models.CharField(max_length=10)
    took_s = models.FloatField(default=0.0)
    at = models.DateTimeField()
    withdrawn = models.DateTimeField(null=True)

    class Meta:
        ordering = ("at", "id")
        indexes = (models.Index(fields=("person", "at")),)

    def __str__(self) -> str:
        return f"{self.person_id} {self.kind} {self.outcome}"


class PracticeSkill(models.Model):
    """What is remembered of one kind at one level by those answers: core's `Skill`."""

    person = models.ForeignKey(PracticePerson, related_name="skills", on_delete=models.CASCADE)
    kind = models.CharField(max_length=20)
    level = models.CharField(max_length=12)
    last = models.CharField(max_length=10)
    at = models.DateTimeField()
    due = models.DateTimeField()
    learnt = models.BooleanField()
    again = models.BooleanField()
    step = models.IntegerField(null=True)
    stability_d = models.FloatField()
    difficulty = models.FloatField()

    class Meta:
        constraints = (models.UniqueConstraint(fields=("person", "kind", "level"), name="one_skill_each"),)

    def __str__(self) -> str:
        return f"{self.person_id} {self.kind} {self.level}"
