"""PDFs for tests, written object by object (ISO 32000-1)."""


def pdf(
    *pages: tuple[float, float, str], resources: str = "", more: tuple = (), trailer=""
) -> bytes:
    """Pages of (width, height, content), in points. more : further objects, from number 3 + 2
    times the pages on. trailer : more of the trailer's dictionary.
    """
    kids = " ".join(f"{3 + 2 * n} 0 R" for n in range(len(pages)))
    objects = ["<< /Type /Catalog /Pages 2 0 R >>"]
    objects.append(f"<< /Type /Pages /Kids [{kids}] /Count {len(pages)} >>")
    for n, (width, height, content) in enumerate(pages):
        box = f"/MediaBox [0 0 {width} {height}] /Contents {4 + 2 * n} 0 R"
        objects.append(f"<< /Type /Page /Parent 2 0 R {box} /Resources << {resources} >> >>")
        objects.append(f"<< /Length {len(content)} >>\nstream\n{content}\nendstream")
    objects += more
    out, places = b"%PDF-1.6\n", []
    for number, body in enumerate(objects, 1):
        places.append(len(out))
        out += f"{number} 0 obj\n{body}\nendobj\n".encode("latin-1")
    table = "".join(f"{place:010} 00000 n \n" for place in places)
    end = f"xref\n0 {len(objects) + 1}\n0000000000 65535 f \n{table}"
    end += f"trailer\n<< /Size {len(objects) + 1} /Root 1 0 R {trailer} >>\n"
    return out + end.encode() + f"startxref\n{len(out)}\n%%EOF\n".encode()


SIGN = "0.11 0.17 0.27 rg 20 30 100 60 re f 0.76 0.27 0.1 rg 90 60 m 180 60 l 135 130 l h f"
MOON = "0.95 0.76 0.3 rg 40 40 60 60 re f"
TWO = pdf((200, 150, SIGN), (140, 140, MOON))
LOCKED = pdf(
    (100, 100, MOON),
    trailer="/ID [<00><00>] /Encrypt << /Filter /Standard /V 1 /R 2 /P -4 /O <"
    + "41" * 32
    + "> /U <"
    + "42" * 32
    + "> >>",
)
ENDLESS = pdf(
    (100, 100, "/A Do"),
    resources="/XObject << /A 5 0 R /B 6 0 R >>",
    more=tuple(
        f"<< /Type /XObject /Subtype /Form /BBox [0 0 100 100] /Resources << /XObject << /A 5 0 R "
        f"/B 6 0 R >> >> /Length {len(body)} >>\nstream\n{body}\nendstream"
        for body in ("/B Do " * 20, "/A Do " * 20)
    ),
)
