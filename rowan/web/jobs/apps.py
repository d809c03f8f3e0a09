"""The list of jobs and what is done with whole jobs."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "rowan.web.jobs"
    label = "job_list"
