"""A report's page as PDF. Apart from the page, as it needs Pango: a server without it serves everything else."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from weasyprint import HTML
from weasyprint.urls import URLFetcher, URLFetcherResponse

from fentro_server.photos.models import Photo
from fentro_server.records.paper import Shown, page

STYLE = Path(__file__).parent / "static" / "records" / "report.css"
BASE = "fentro://report/"


def pdf(shown: Shown, company_id: Any) -> bytes:
    """The same page as PDF."""
    made: bytes = HTML(string=page(shown), base_url=BASE, url_fetcher=_Own(company_id)).write_pdf()
    return made


class _Own(URLFetcher):
    """Only what is ours: the page's style, the interface's fonts, the company's photos. Nothing is fetched from anywhere."""

    def __init__(self, company_id: Any) -> None:
        super().__init__()
        self.company_id = company_id

    def fetch(self, url: str, headers: Any = None) -> URLFetcherResponse:
        """The content of an address on the page."""
        name = url.rsplit("/", 1)[-1]
        if url.endswith("/report.css"):
            return URLFetcherResponse(url, STYLE.read_bytes(), {"Content-Type": "text/css"})
        if name.endswith(".woff2") and (font := settings.FONTS / name).is_file():
            return URLFetcherResponse(url, font.read_bytes(), {"Content-Type": "font/woff2"})
        if "/photos/" in url:
            row = Photo.objects.of(self.company_id).filter(sha256=name).first()
            if row:
                return URLFetcherResponse(url, bytes(row.content), {"Content-Type": row.media_type})
        raise ValueError(f"{url} is not ours")
