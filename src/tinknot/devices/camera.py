"""The camera's stand-in: made-up pictures, for a demo and for tests without a camera."""

import random
from io import BytesIO

from PIL import Image, ImageDraw, ImageFilter

SIZE = (960, 540)


def made_up_picture(title: str, seed: str) -> bytes:
    """A JPEG of a cable on a bench with `title` on a slip of paper; the same `seed` gives the same
    picture."""
    pick = random.Random(seed)
    picture = Image.new("RGB", SIZE, (118 + pick.randrange(30), 112, 104))
    draw = ImageDraw.Draw(picture)
    for _ in range(400):  # the grain of the bench
        y, shade = pick.randrange(SIZE[1]), pick.randrange(85, 135)
        draw.line([(0, y), (SIZE[0], y + pick.randrange(-6, 6))], fill=(shade, shade - 5, shade - 12))
    middle = SIZE[1] // 2 + pick.randrange(-20, 20)
    for half, colour in ((46, (38, 42, 44)), (34, (58, 63, 66)), (14, (86, 92, 96))):
        draw.rectangle([0, middle - half, SIZE[0], middle + half], fill=colour)
    left = 250 + pick.randrange(60)
    draw.rounded_rectangle([left, middle - 62, left + 430, middle + 62], 22, fill=(24, 26, 28))
    draw.rounded_rectangle([left + 8, middle - 34, left + 422, middle - 18], 8, fill=(70, 75, 79))
    picture = picture.filter(ImageFilter.BoxBlur(1.5))
    draw = ImageDraw.Draw(picture)
    draw.rectangle([30, 30, 430, 82], fill=(236, 232, 220))
    draw.text((44, 48), title[:60], fill=(30, 30, 30))
    out = BytesIO()
    picture.save(out, "JPEG", quality=82)
    return out.getvalue()
