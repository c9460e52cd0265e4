import json

from coldstack.server.gear.models import RcModel
from tests.server.case import DemoCase


class Models(DemoCase):
    def put(self, slug, job):
        return self.client.put(f"/api/models/{slug}/job", json.dumps(job), content_type="application/json")

    def test_the_switcher_lists_all_models_in_one_query(self):
        """Six models, in their owner's order."""
        with self.assertNumQueries(1):
            names = [m["name"] for m in self.client.get("/api/models").json()]
        self.assertEqual(names, ["Ptarmigan", "Grebe", "Snow Hare", "Fieldfare", "Stoat", "Dipper"])

    def test_an_edited_job_is_kept(self):
        """What was put is what is read back."""
        job = self.job(draw={"peak_a": 51.5})
        self.assertEqual(self.put("ptarmigan", job).status_code, 200)
        self.assertEqual(self.client.get("/api/models/ptarmigan").json()["job"]["draw"]["peak_a"], 51.5)

    def test_an_impossible_job_is_not_kept(self):
        """The saved one stays as it was, and the field is named."""
        before = RcModel.objects.get(slug="ptarmigan").job
        self.assert_problem(
            self.put("ptarmigan", self.job(draw={"peak_a": -4})), 422, "draw.peak_a", "from 0.01 to 2000 A"
        )
        self.assertEqual(RcModel.objects.get(slug="ptarmigan").job, before)

    def test_an_unknown_model_is_not_found(self):
        """To read or to write."""
        self.assert_problem(self.client.get("/api/models/heron"), 404)
        self.assert_problem(self.put("heron", self.job()), 404)

    def test_every_demo_job_is_valid(self):
        """Each of the six can be put back as it is."""
        for model in RcModel.objects.all():
            self.assertEqual(self.put(model.slug, model.job).status_code, 200, model.slug)

    def test_writing_needs_the_token(self):
        """Without the CSRF cookie's token the page is told to reload."""
        from django.test import Client

        strict = Client(enforce_csrf_checks=True)
        reply = strict.put(
            "/api/models/ptarmigan/job", json.dumps(self.job()), content_type="application/json"
        )
        self.assert_problem(reply, 403, words="Reload")
