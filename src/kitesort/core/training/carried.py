"""Sites carried to another date: whether the ground there is still what was drawn."""

from dataclasses import dataclass

from kitesort.core.training.site_figures import SiteFigures

MORE_LIKE_ANOTHER = 0.4  # share of a site's pixels that look like another class there and not here
ODD = 1.5  # times the limit of what is usual in its class, there
MUCH_ODDER = 1.5  # times as odd as here


@dataclass(frozen=True)
class Carried:
    """A site here and there. ``changed``: its cover seems to be another one there."""

    here: SiteFigures
    there: SiteFigures
    changed: bool


def carry(here: SiteFigures, there: SiteFigures) -> Carried:
    """Compare a site on two dates, each judged among the sites of its class on that date: what is
    usual in a class comes from most of its sites, so that a season changes all of them alike, and
    those on ground that became something else stand out.

    The rule is our own; on the demo, where the truth of both dates is known, it finds all sites on
    changed ground with next to no false ones (a test).
    """
    more_like_another = there.like_share - here.like_share > MORE_LIKE_ANOTHER
    odd_here, odd_there = here.oddness or 0.0, there.oddness or 0.0
    odder = odd_there > ODD and odd_there > MUCH_ODDER * odd_here
    return Carried(here, there, more_like_another or odder)
