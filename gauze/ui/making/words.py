"""What is said of a plan, of lengths as of sheets."""

from gauze.ui.text import tr


def plan_words(bought: int, owned: int, used: float, cost: float, bound: float, hidden: int) -> str:
    """How much is bought and used, what is proven, and how many bars or sheets there was no room to draw."""
    proven = cost <= bound * (1.0 + 1e-6)
    proof = (
        tr("no plan takes less")
        if proven
        else tr("no plan costs less than {share} of this").format(share=f"{100 * bound / cost:.0f} %")
    )
    words = tr("{bought} bought, {owned} from the shelf; {used} used; {proof}")
    text = words.format(bought=bought, owned=owned, used=f"{100 * used:.0f} %", proof=proof)
    if hidden:
        text += tr("; {count} more are in the exported list").format(count=hidden)
    return text
