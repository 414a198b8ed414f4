"""What a club's boats have in common: against closed forms, a statistics library, and a club that is not the model."""

import dataclasses

import numpy as np
import pytest
from scipy import stats
from statsmodels.stats.meta_analysis import combine_effects
from tests.pond.seasons import boats
from tests.samples import setup as sample

from kunstflug.core.choose.sweep import ranges_about, sweep
from kunstflug.core.drive.family import families_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.values import as_bought, drive_values, known_of
from kunstflug.core.evidence.readings import STEADY, What
from kunstflug.core.learning.cases import Memory
from kunstflug.core.learning.judged import judged
from kunstflug.core.learning.learn import learn, newcomer
from kunstflug.core.learning.pool import Summary, counts, pooled, summary_of
from kunstflug.core.quantity.value import Z80, Source
from kunstflug.core.setup.editor import edited, typed
from kunstflug.core.setup.knowledge import SHARED, Owner
from kunstflug.core.thermal.nodes import known_with_heat
from kunstflug.pond.season import Day, season

RACERS, CLUB_SEED = 40, 3
NEWCOMERS = 24


def summary(mean, spread, numbers=(("hull/mono", "air_drag_area_m2"),)):
    """Of independent numbers, each known to a spread."""
    return Summary(
        numbers=tuple(numbers),
        mean=np.atleast_1d(np.asarray(mean, float)),
        covariance=np.diag(np.atleast_1d(np.asarray(spread, float)) ** 2),
        before=np.eye(len(numbers)),
    )


def said_alone(one):
    """What a racer's runs alone say of one number, and its variance: the posterior less what was believed before."""
    variance = one.covariance[0, 0]
    precision = 1.0 / variance - 1.0
    return one.mean[0] / variance / precision, 1.0 / precision


@pytest.fixture(scope="module")
def several():
    rng = np.random.default_rng(5)
    return [summary(0.5 * rng.standard_normal(), rng.uniform(0.3, 0.9)) for _ in range(9)]


@pytest.mark.parametrize("share", [0.2, 0.6])
def test_one_number_is_pooled_as_a_statistics_library_does(several, share):
    """Random effects of a known spread between racers: statsmodels' combination of effects, then the prior of 1."""
    effects, variances = map(np.array, zip(*map(said_alone, several), strict=True))
    # A fixed-effect combination whose variances hold the spread between racers is the random-effects one.
    reference = combine_effects(effects, variances + (1.0 - share))
    mean, spread = reference.mean_effect_fe, reference.sd_eff_w_fe
    precision = 1.0 / spread**2 + 1.0 / share
    club = pooled(several, [share], [1.0]).club()
    assert club.mean[0] * np.sqrt(share) == pytest.approx(mean / spread**2 / precision, rel=1e-9)
    assert club.covariance[0, 0] * share == pytest.approx(1.0 / precision, rel=1e-9)


def test_the_spread_between_racers_is_the_one_that_a_statistics_library_finds():
    """Many racers who measure well: the part in common is what is left beside the library's variance between them."""
    rng = np.random.default_rng(8)
    numbers = [(f"hull/{k}", "air_drag_area_m2") for k in range(40)]
    families = np.sqrt(0.7) * rng.standard_normal(40)
    many = [summary(families + np.sqrt(0.3) * rng.standard_normal(40), np.full(40, 0.2), numbers) for _ in range(12)]
    found = pooled(many)
    between = []
    for k in range(40):
        alone = [said_alone(summary(one.mean[k], 0.2)) for one in many]
        effects, variances = map(np.array, zip(*alone, strict=True))
        between.append(combine_effects(effects, variances, method_re="iterated").tau2)
    assert (1.0 - found.share) * found.width**2 == pytest.approx(np.mean(between), rel=0.15)


def test_how_likely_a_part_in_common_is_is_the_density_of_what_was_read(several):
    """Two parts in common are as likely as the joint normal density of all racers' readings says."""
    effects, variances = map(np.array, zip(*map(said_alone, several), strict=True))

    def density(share):
        return stats.multivariate_normal.logpdf(
            effects, cov=share * np.ones((9, 9)) + np.diag(variances + 1.0 - share)
        ) + np.log(share * (1 - share))

    best = max((0.05, 0.3, 0.8), key=density)
    assert pooled(several, (0.05, 0.3, 0.8), (1.0,)).share == best


def test_several_numbers_that_go_together_are_pooled_as_the_whole_table():
    """Against one dense posterior over all racers' numbers and the families', none of it taken out first."""
    rng = np.random.default_rng(11)
    share, n, racers = 0.4, 4, 5
    numbers = [("hull/mono", f"n{k}") for k in range(n)]
    made, precision = [], np.zeros(((racers + 1) * n, (racers + 1) * n))
    pull = np.zeros((racers + 1) * n)
    precision[:n, :n] = np.eye(n)
    load = np.sqrt(share) * np.eye(n)
    for k in range(racers):
        read = rng.standard_normal((3, n))
        value = rng.standard_normal(3)
        covariance = np.linalg.inv(np.eye(n) + read.T @ read)
        made.append(
            Summary(numbers=tuple(numbers), mean=covariance @ read.T @ value, covariance=covariance, before=np.eye(n))
        )
        rows = slice((k + 1) * n, (k + 2) * n)
        between = np.eye(n) / (1.0 - share)
        precision[rows, rows] = between + read.T @ read
        precision[rows, :n] = precision[:n, rows] = -between @ load
        precision[:n, :n] += load @ between @ load
        pull[rows] = read.T @ value
    dense = np.linalg.inv(precision)
    club = pooled(made, [share], [1.0]).club()
    np.testing.assert_allclose(club.mean, (dense @ pull)[:n], rtol=1e-8, atol=1e-10)
    np.testing.assert_allclose(club.covariance, dense[:n, :n], rtol=1e-8, atol=1e-10)


def test_one_comes_in_and_goes_out_as_if_all_were_pooled_anew(several):
    pool = pooled(several[:-1], [0.3], [1.1])
    more, whole = pool.with_one(several[-1]), pooled(several, [0.3], [1.1])
    np.testing.assert_allclose(more.club().mean, whole.club().mean, rtol=1e-9)
    np.testing.assert_allclose(more.without(several[-1]).club().covariance, pool.club().covariance, rtol=1e-9)
    assert dict(more.racers) == dict(whole.racers)


def test_from_fewer_than_three_racers_nothing_is_said(several):
    assert pooled(several[:2]).club() is None
    assert pooled(several[:3]).club() is not None
    assert pooled([]).club() is None
    assert pooled(several[:3]).without(several[0]).club() is None


def test_a_summary_from_where_no_boat_can_be_does_not_count(several):
    joke = summary(9.0, 0.05)
    assert not counts(joke)
    assert pooled([*several, joke]).club().mean[0] == pooled(several).club().mean[0]
    assert pooled(several).with_one(joke).racers == pooled(several).racers


def test_temperatures_and_charge_stay_the_racers_own():
    runs = season([Day(setup=sample(), outing=0, logged=True)], 7)
    one = summary_of(runs)
    told = dict(zip(one.numbers, np.diag(one.covariance), strict=True))
    assert told["motor/inrunner/2", "kv_rpm_per_v"] < 0.9
    assert told["motor/inrunner/2", "case_air_w_k"] == pytest.approx(1.0)
    gun = [dataclasses.replace(r, readings=tuple(x for x in r.readings if x.what is What.CASE)) for r in runs]
    assert summary_of(gun) is None


def test_ten_boats_of_one_racer_are_not_ten_racers():
    setup = sample()
    runs = [r for k in range(3) for r in season([Day(setup=setup, outing=0)], 40 + k)]
    one = summary_of(runs)
    place = one.numbers.index((families_of(setup)[Owner.HULL], "planing_drag_ratio"))
    assert one.before[place, place] == pytest.approx(SHARED + (1 - SHARED) / 3)
    assert len(set(one.numbers)) == len(one.numbers)


# --- a club on a pond that the model is wrong about


@pytest.fixture(scope="module")
def pond():
    """A club's pool, and boats of others there."""
    every = list(boats(RACERS + NEWCOMERS, 23))
    days = [[Day(setup=setup, outing=n // 2, logged=True) for n in range(3)] for _, setup in every[:RACERS]]
    made = [summary_of(season(d, k, CLUB_SEED)) for d, (k, _) in zip(days, every[:RACERS], strict=True)]
    return pooled(made).club(), every[RACERS:]


@pytest.mark.no_cover
@pytest.mark.long
def test_a_newcomers_first_forecast_is_narrower_and_likelier(pond):
    club, others = pond
    off = {name: [] for name in ("bought", "club")}
    for k, setup in others:
        runs = season([Day(setup=setup, outing=0, logged=True)], k, CLUB_SEED)
        for name, known in (("bought", None), ("club", club)):
            for reading in judged(learn(runs, club=known))[0].readings:
                if reading.what in STEADY:
                    off[name].append((reading.off_from(reading.then), reading.then.spread))
    bought, with_club = (np.array(off[name]).T for name in ("bought", "club"))
    assert np.median(with_club[1] / bought[1]) < 0.9
    assert np.mean(np.abs(with_club[0]) < Z80 * with_club[1]) > 0.65
    # How likely what was read is by what was said: narrower alone would not do, nor nearer alone.
    likely = [np.mean(stats.norm.logpdf(found[0], scale=found[1])) for found in (bought, with_club)]
    assert likely[1] > likely[0] + 0.05


@pytest.mark.long
def test_what_a_club_says_before_any_run_is_what_the_forecast_says(pond):
    """Judging a first run and forecasting it are two ways to one number."""
    club, others = pond
    k, setup = others[0]
    run = season([Day(setup=setup, outing=0, logged=True)], k, CLUB_SEED)[0]
    first = judged(learn([run], club=club))[0].readings[0].then
    there = dataclasses.replace(run.setup, knowledge=newcomer(club, run.boat))
    assert forecast(there, samples=0).point.speed_mps == pytest.approx(first.value, rel=0.02)


@pytest.mark.long
def test_what_the_club_taught_is_not_called_ones_own(pond):
    club, others = pond
    setup = dataclasses.replace(others[0][1], knowledge=newcomer(club, "new"))
    known = known_of(setup)
    assert known.names
    for name, value in drive_values(setup):
        assert value.source is not Source.LEARNT, name
    narrower = [known.of(n, v).spread < v.spread for n, v in as_bought(setup) if n in known.names]
    assert any(narrower)


@pytest.mark.long
def test_families_that_never_ran_keep_what_the_club_knows(pond):
    club, others = pond
    (k, setup), other = others[0], next(s for _, s in others if families_of(s) != families_of(others[0][1]))
    learned = learn(season([Day(setup=setup, outing=0)], k, CLUB_SEED), club=club)
    assert set(learned.latents.club.numbers) == set(club.numbers)
    assert len(learned.mean) == learned.knowledge("another").drawn.shape[1] == len(learned.covariance)
    untaught = dataclasses.replace(other, knowledge=learned.knowledge("another"))
    fresh = dataclasses.replace(other, knowledge=newcomer(club, "another"))
    widths = []
    for one in (untaught, fresh, other):
        found = forecast(one)
        widths.append(np.log(found.high.speed_mps / found.low.speed_mps))
    assert widths[0] < widths[2]
    assert widths[1] < widths[2]


@pytest.mark.parametrize("learnt", [False, True])
@pytest.mark.long
def test_a_sweep_a_changed_setup_and_its_heat_know_the_same(pond, learnt):
    club, _ = pond
    setup = sample()
    known = newcomer(club, "a")
    if learnt:
        known = learn(season([Day(setup=setup, outing=0)], 9, CLUB_SEED), club=club).knowledge("boat 9")
    setup = dataclasses.replace(setup, knowledge=known)
    kv = setup.motor.kv_rpm_per_v.value * np.array([0.9, 1.0, 1.15])
    swept = sweep(setup, ranges_about(setup, kv=kv))
    for k, one in enumerate(kv):
        alone = forecast(edited(setup, typed("motor.kv", float(one), setup)), samples=0)
        assert alone.point.speed_mps == pytest.approx(swept.speed_mps[k], rel=1e-6)
    drive, with_heat = known_of(setup), known_with_heat(setup)
    assert set(with_heat.names) >= set(drive.names)
    drawn, beside = drive.draws(64, 5), with_heat.draws(64, 5)
    for name in drive.names:  # the drive is drawn alike, whether or not its heat is drawn beside it
        np.testing.assert_array_equal(drawn[name], beside[name])


@pytest.mark.long
def test_one_run_more_in_a_club_is_the_same_as_all_at_once(pond):
    """What is kept of an earlier search says only where the laws were asked, with a club's centre, too."""
    club, _ = pond
    runs = season([Day(setup=sample(), outing=k) for k in range(4)], 12, CLUB_SEED)
    memory = Memory()
    for n in (2, 3):
        learn(runs[:n], memory, club)
    np.testing.assert_allclose(learn(runs, memory, club).mean, learn(runs, club=club).mean, atol=1e-3)
