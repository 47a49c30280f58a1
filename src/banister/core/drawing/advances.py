"""How wide the shipped fonts set a text, so that charts can be laid out where no font can be asked."""

from __future__ import annotations

from banister.core.drawing.shapes import BOLD, NARROW, NARROW_BOLD, PLAIN

CHARACTERS = (
    " !\"#$%&'()*+,-./0123456789:;<=>?@ABCDEFGHIJKLMNOPQRSTUVWXYZ[\\]^_`abcdefghijklmnopqrstuvwxyz{|}~"
    "\u00b0\u00b2\u00b7\u00d7\u2013\u2192\u2212\u03b1\u00e4\u00f6\u00fc\u00df\u00c4\u00d6\u00dc\u00e9\u2026"
)
"""The characters that are measured; any other one is as wide as a capital M."""
THOUSANDTHS = {
    PLAIN: (
        236, 284, 419, 713, 598, 927, 694, 242, 335, 335, 450, 600, 272, 399, 272, 383, 600, 600, 600, 600, 600, 600, 600, 600, 600, 600, 292, 292,
        600, 600, 600, 477, 891, 641, 653, 621, 671, 583, 559, 695, 707, 400, 510, 634, 501, 812, 707, 708, 606, 708, 640, 581, 572, 678, 609, 891,
        613, 593, 580, 317, 383, 317, 600, 565, 600, 534, 580, 503, 580, 549, 324, 528, 568, 250, 250, 527, 272, 873, 568, 560, 580, 580, 367, 487,
        351, 568, 492, 768, 507, 499, 464, 343, 314, 343, 600, 468, 346, 326, 600, 588, 820, 600, 644, 534, 560, 568, 640, 641, 708, 678, 549, 803,
    ),
    BOLD: (
        236, 309, 471, 656, 600, 960, 713, 260, 337, 337, 556, 600, 298, 402, 298, 437, 600, 600, 600, 600, 600, 600, 600, 600, 600, 600, 318, 318,
        600, 600, 600, 493, 899, 672, 663, 642, 689, 600, 577, 712, 719, 423, 545, 678, 521, 816, 719, 712, 641, 712, 664, 611, 580, 690, 638, 949,
        655, 632, 599, 329, 437, 329, 600, 559, 600, 559, 600, 513, 600, 558, 350, 545, 588, 276, 276, 562, 294, 888, 588, 563, 600, 600, 393, 499,
        374, 588, 524, 819, 544, 524, 502, 363, 376, 363, 600, 470, 347, 350, 600, 588, 876, 600, 660, 559, 563, 588, 677, 672, 712, 690, 558, 868,
    ),
    NARROW: (
        212, 258, 382, 637, 538, 837, 626, 220, 302, 302, 414, 540, 248, 360, 248, 349, 540, 540, 540, 540, 540, 540, 540, 540, 540, 540, 258, 258,
        540, 540, 540, 431, 803, 579, 589, 561, 607, 526, 505, 627, 637, 362, 462, 574, 453, 730, 637, 638, 548, 638, 578, 525, 516, 611, 549, 808,
        555, 534, 524, 286, 349, 286, 540, 508, 540, 483, 524, 454, 524, 495, 294, 477, 513, 228, 228, 477, 247, 787, 513, 504, 524, 524, 332, 439,
        318, 513, 445, 698, 459, 451, 421, 310, 288, 310, 540, 422, 320, 296, 540, 528, 780, 540, 579, 483, 504, 513, 579, 579, 638, 611, 495, 729,
    ),
    NARROW_BOLD: (
        212, 272, 411, 605, 537, 857, 637, 230, 303, 303, 475, 540, 263, 360, 264, 380, 540, 540, 540, 540, 540, 540, 540, 540, 540, 540, 278, 278,
        540, 540, 540, 440, 808, 596, 595, 573, 617, 536, 515, 635, 644, 377, 481, 598, 465, 735, 645, 640, 568, 640, 592, 538, 521, 619, 570, 840,
        578, 553, 534, 293, 380, 293, 540, 505, 540, 497, 535, 460, 535, 501, 314, 486, 525, 244, 245, 497, 260, 796, 525, 506, 535, 535, 347, 446,
        328, 525, 464, 723, 477, 470, 440, 322, 323, 322, 540, 422, 320, 308, 540, 528, 798, 540, 589, 497, 506, 525, 600, 596, 640, 619, 501, 766,
    ),
}  # fmt: skip
"""Advance of every character of a face, in thousandths of the size."""
_WIDTHS = {face: dict(zip(CHARACTERS, widths, strict=True)) for face, widths in THOUSANDTHS.items()}


def advance(text: str, size: float, face: str = PLAIN) -> float:
    """Width of a text, in the unit of its size.

    >>> advance("22 mm", 10.0) > advance("22 mm", 10.0, NARROW) > advance("22", 10.0, NARROW)
    True
    """
    widths = _WIDTHS[face]
    other = widths["M"]
    return sum(widths.get(character, other) for character in text) * size / 1000


def fitting(text: str, size: float, room: float, face: str = PLAIN) -> float:
    """The size a text is set in where it has so much room: its own, or what it needs to be whole.

    >>> fitting("grown by 1/32 in", 17.0, 1000.0), advance("grown by 1/32 in", fitting("grown by 1/32 in", 17.0, 90.0)) <= 90.0
    (17.0, True)
    """
    return size * min(1.0, room / max(advance(text, size, face), 1e-6))


def elided(text: str, room: float, size: float, face: str = PLAIN) -> str:
    """A text shortened to what fits, with three points where something is left out.

    >>> elided("Delivery pipe", 1000.0, 10.0), elided("Delivery pipe", 45.0, 10.0)
    ('Delivery pipe', 'Delivery...')
    """
    if advance(text, size, face) <= room:
        return text
    while text and advance(f"{text}...", size, face) > room:
        text = text[:-1]
    return f"{text.rstrip()}..." if text else ""
