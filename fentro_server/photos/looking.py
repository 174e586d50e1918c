"""Is it a photo, small enough, and silent about where it was taken?"""

from __future__ import annotations

import warnings
from io import BytesIO

from PIL import Image, UnidentifiedImageError
from PIL.ExifTags import IFD

from fentro_core.base.refusal import Refused

MEDIA_TYPES = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}
MOST_BYTES = 3 * 1024 * 1024
MOST_PX = 4096
"""Along its longer side."""


def media_type_of(content: bytes) -> str:
    """What kind of picture it is.

    Raises
    ------
    Refused
        No picture, one too large, or one that carries the place where it was taken.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            image = Image.open(BytesIO(content), formats=list(MEDIA_TYPES))
            if max(image.size) > MOST_PX:
                raise Refused("This photo is too large. Make it smaller: at most 4,096 pixels along a side.", "photo")
            place = image.getexif().get_ifd(IFD.GPSInfo)
            image.load()
    except Refused:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Warning, Image.DecompressionBombError):
        raise Refused("This is not a photo that can be shown: JPEG, PNG or WebP.", "photo") from None
    if place:
        raise Refused("This photo says where it was taken. Take the place out of it first.", "photo")
    return MEDIA_TYPES[str(image.format)]
