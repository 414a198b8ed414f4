"""A club's priors: what leaves an account, who gets what of it, and what is left when somebody takes it back."""

import json

import pytest
from sqlalchemy import select
from tests import samples
from tests.web.club import WORDS, a_club, joined, store_of

from kunstflug.core.learning.pool import LEAST_RACERS
from kunstflug.core.learning.pool import pooled as all_pooled
from kunstflug.documents.priors import PoolDocument, SummaryDocument
from kunstflug.services.club import priors
from kunstflug.services.learning import learning
from kunstflug.services.learning.pool import club_for, pool_in
from kunstflug.services.shared.computing import computing
from kunstflug.store.acting import EVERY_RACER, Acting, acting
from kunstflug.store.people import PoolRow, Racer, SummaryRow

NAMES = ("kim", "sam", "ada", "bo")
SLOW = {"kim": 69.0, "sam": 70.0, "ada": 68.0, "bo": 71.0}  # km/h, a tenth less than the forecast says


@pytest.fixture
def club(fresh_store):
    with a_club(fresh_store) as client:
        client.racers = {name: joined(client, name, "keeper" if name == "kim" else "racer") for name in NAMES}
        yield client


def run(racer, setup_id, day, kmh):
    """A run off a display."""
    made = racer.post(f"/api/setups/{setup_id}/runs/typed", json={"started_at": f"2026-05-{day:02d}T10:00:00"})
    assert made.status_code == 201, made.text
    typed = {"peaks": [{"speed": samples.q(kmh, "km/h"), "instrument": "mine"}]}
    body = {"conditions": {}, "note": "", "observations": [], "readings": [], "typed": typed}
    answer = racer.put(f"/api/runs/{made.json()['id']}/notes", json=body, headers={"If-Match": "*"})
    assert answer.status_code == 200, answer.text


def boat_that_ran(club, name, runs=3):
    racer = club.racers[name]
    boat = racer.post("/api/boats", json={"name": f"Fast {name}", "document": samples.raw()}).json()
    for day in range(1, runs + 1):
        run(racer, boat["id"], day, SLOW[name] - 0.3 * day)
    return boat


def forecast(racer, boat):
    found = racer.post(f"/api/forecast?boat={boat['boat_id']}", json=samples.raw())
    assert found.status_code == 200, found.text
    said = found.json()
    speed = said["point"]["speed_mps"]
    return speed["value"], speed["high"] - speed["low"], said["known_racers"]


def kept(club, table):
    with store_of(club).transaction() as session:
        return session.scalars(select(table).execution_options(**EVERY_RACER)).all()


def standing(racer):
    return racer.get("/api/club/priors").json()


def test_a_newcomer_starts_with_what_three_others_taught_and_ends_without_it(club):
    for name in NAMES[:LEAST_RACERS]:
        boat_that_ran(club, name)
    bo = club.racers["bo"]
    boat = bo.post("/api/boats", json={"name": "New", "document": samples.raw()}).json()
    bought = forecast(bo, boat)
    for k, name in enumerate(NAMES[:LEAST_RACERS], 1):
        assert club.racers[name].post("/api/club/priors").status_code == 204
        _everybody_looks_again(club)
        known = forecast(bo, boat)
        assert (known != bought) == (k == LEAST_RACERS), "from fewer than three nothing is said"
    assert known[0] < 0.97 * bought[0], "their boats are slow, so his may be"
    assert known[1] < bought[1], "and he knows more"
    assert (bought[2], known[2]) == (0, LEAST_RACERS)
    seen = standing(bo)
    assert seen["racers"] == LEAST_RACERS
    assert seen["agreed_at"] is None
    assert {"words": "Monos", "racers": 3, "used": True} in seen["families"]
    assert "Two-bladed surface-piercing propellers" in standing(club.racers["sam"])["told"]

    assert club.racers["ada"].delete("/api/club/priors").status_code == 204
    _everybody_looks_again(club)
    assert forecast(bo, boat) == bought
    assert standing(bo)["racers"] == 2


def _everybody_looks_again(club):
    with store_of(club).transaction() as session:
        racers = session.scalars(select(Racer.id).execution_options(**EVERY_RACER)).all()
    for racer in racers:
        with acting(Acting(racer=racer)):
            learning.forget(store_of(club))


def test_what_leaves_an_account_is_means_and_spreads_of_families_and_nothing_else(club):
    boat_that_ran(club, "sam")
    club.racers["sam"].post("/api/club/priors")
    (row,) = kept(club, SummaryRow)
    assert set(row.document) == {"version", "numbers", "mean", "covariance", "before"}
    families = {family for family, _ in row.document["numbers"]}
    assert families == {"hull/mono", "motor/inrunner/2", "controller", "pack", "propeller/surface/2"}
    text = json.dumps([row.document["numbers"], [one.document for one in kept(club, PoolRow)]])
    for secret in ("Fast sam", "2026-05", "mine", "km/h", "sam"):
        assert secret not in text


@pytest.mark.long
def test_ones_own_runs_count_once(club):
    """A racer who shares gets what the others showed; their own runs count beside it, once."""
    boats = {name: boat_that_ran(club, name) for name in NAMES}
    for name in NAMES:
        club.racers[name].post("/api/club/priors")
    pool = pool_in(kept(club, PoolRow)[0])
    with store_of(club).transaction() as session:
        me = session.scalar(select(Racer.id).where(Racer.name == "bo"))
        got = club_for(session, me)
    others = [SummaryDocument.model_validate(r.document).summary() for r in kept(club, SummaryRow) if r.owner_id != me]
    wanted = all_pooled(others, [pool.share], [pool.width]).club()
    assert by_number(got) == pytest.approx(by_number(wanted), abs=1e-7)
    assert by_number(got) != pytest.approx(by_number(pool.club()), abs=1e-3)
    assert forecast(club.racers["bo"], boats["bo"])[2] == LEAST_RACERS


def by_number(club):
    return {number: club.mean[k] for number, k in club.numbers.items()}


def assert_same(pool, other):
    assert by_number(pool.club()) == pytest.approx(by_number(other.club()), abs=1e-7)


def test_one_by_one_is_the_same_as_all_anew(club):
    for name in NAMES:
        boat_that_ran(club, name)
        club.racers[name].post("/api/club/priors")
    pool = pool_in(kept(club, PoolRow)[0])
    summaries = [SummaryDocument.model_validate(row.document).summary() for row in kept(club, SummaryRow)]
    whole = all_pooled(summaries, [pool.share], [pool.width])
    assert_same(pool, whole)
    assert PoolDocument.of(pool).pool().racers == dict(whole.racers)


@pytest.mark.long
def test_a_racer_who_ran_more_teaches_more_when_all_is_made_anew(club):
    boats = {name: boat_that_ran(club, name, runs=1) for name in NAMES}
    for name in NAMES:
        club.racers[name].post("/api/club/priors")
    before = {row.owner_id: row.document for row in kept(club, SummaryRow)}
    run(club.racers["ada"], boats["ada"]["id"], 9, 48.0)
    refused = club.racers["sam"].post("/api/club/priors/anew")
    assert refused.status_code == 403
    answer = club.racers["kim"].post("/api/club/priors/anew")
    assert answer.status_code == 200, answer.text
    assert answer.json()["racers"] == 4
    after = {row.owner_id: row.document for row in kept(club, SummaryRow)}
    changed = [owner for owner in before if before[owner] != after[owner]]
    assert len(changed) == 1
    pool = pool_in(kept(club, PoolRow)[0])
    summaries = [SummaryDocument.model_validate(doc).summary() for doc in after.values()]
    whole = all_pooled(summaries)
    assert (pool.share, pool.width) == (whole.share, whole.width)
    assert_same(pool, whole)


@pytest.mark.long
def test_who_takes_back_while_all_is_made_anew_is_out(club, monkeypatch):
    for name in NAMES:
        boat_that_ran(club, name, runs=1)
        club.racers[name].post("/api/club/priors")
    real = priors.pooled

    def meanwhile(*args, **more):
        monkeypatch.setattr(priors, "pooled", real)
        assert club.racers["ada"].delete("/api/club/priors").status_code == 204
        return real(*args, **more)

    monkeypatch.setattr(priors, "pooled", meanwhile)
    with computing() as work:
        priors.make_anew(store_of(club), work)
    pool = pool_in(kept(club, PoolRow)[0])
    assert pool.racers["hull/mono"] == 3
    left = [SummaryDocument.model_validate(row.document).summary() for row in kept(club, SummaryRow)]
    assert_same(pool, all_pooled(left, [pool.share], [pool.width]))


@pytest.mark.long
def test_an_account_that_goes_takes_its_summary_along(club):
    for name in NAMES:
        boat_that_ran(club, name, runs=1)
        club.racers[name].post("/api/club/priors")
    gone = club.racers["bo"].post("/api/account/delete", json={"password": WORDS["bo"]})
    assert gone.status_code == 204, gone.text
    assert pool_in(kept(club, PoolRow)[0]).racers["hull/mono"] == 3
    assert len(kept(club, SummaryRow)) == 3


def test_who_has_no_runs_may_agree_and_teaches_later(club):
    bo = club.racers["bo"]
    assert bo.post("/api/club/priors").status_code == 204
    assert standing(bo)["agreed_at"]
    assert standing(bo)["told"] == []
    boat_that_ran(club, "bo")
    club.racers["kim"].post("/api/club/priors/anew")
    assert "Monos" in standing(bo)["told"]
