"""Templates as they are loaded: Rowan's own with their text marked for translation."""

from __future__ import annotations

from pathlib import Path

from django.template.base import Origin
from django.template.loaders.app_directories import Loader as AppDirectories

from rowan.web.ui.marking import marked

OWN = Path(__file__).parents[1]


class Loader(AppDirectories):
    """Templates of the apps; what is not Rowan's own stays as it is."""

    def get_contents(self, origin: Origin) -> str:
        """The template's source, marked. Raises TemplateDoesNotExist."""
        source: str = super().get_contents(origin)
        name = Path(str(origin.name))
        return marked(source)[0] if name.is_relative_to(OWN) and name.suffix == ".html" else source
