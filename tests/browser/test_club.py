"""A club's server in the browser: as a new racer, a keeper, with a link, with a passkey, as somebody else after."""

import re

import pytest
from playwright.sync_api import expect
from sqlalchemy import select
from tests import samples
from tests.browser.conftest import Site, listened, look_with_axe, open_page, served, settled
from tests.web.club import WORDS

from kunstflug.core.learning.pool import summary_of
from kunstflug.documents.setup import SetupDocument
from kunstflug.pond.season import Day, season
from kunstflug.services.account import accounts
from kunstflug.services.boats import boats
from kunstflug.services.club import priors
from kunstflug.store.acting import EVERY_RACER
from kunstflug.store.database import Store
from kunstflug.store.migrate import migrate
from kunstflug.store.people import DeviceRow, Racer

pytestmark = pytest.mark.browser


@pytest.fixture(scope="module")
def club(site):
    """The program with accounts, on a database of its own; by name, since passkeys know no numbers."""
    plain = Store(site.server.url("kunstflug_club"))
    migrate(plain.engine)
    boats.new_boat(plain, "Teal", SetupDocument.model_validate(samples.raw()))
    store = Store(site.server.url("kunstflug_club"), accounts=True)
    with served(store) as port:
        yield Site(f"http://localhost:{port}", site.server, store)
    store.close()
    plain.close()


@pytest.fixture
def window(chromium, club, errors):
    """Makes windows of browsers that were never here."""
    made = []

    def opened(width=1280, height=800, *, worker=False):
        page = open_page(chromium, club, width, height, worker=worker)
        made.append(page)
        return page

    yield opened
    for page in made:
        page.context.close()


def join(page, link, name):
    page.goto(link)
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(WORDS[name])
    page.get_by_role("button", name="Join").click()
    codes = page.get_by_test_id("codes")
    expect(codes.get_by_role("listitem")).to_have_count(10)
    kept = codes.get_by_role("listitem").all_inner_texts()
    page.get_by_role("button", name="I have kept them").click()
    settled(page)
    return kept


def sign_in(page, name, password=None):
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password or WORDS[name])
    page.get_by_role("button", name="Sign in").click()


def invited(store, role="racer"):
    return accounts.invite(store, role).path


@pytest.fixture(scope="module")
def keeper(chromium, club):
    """The club's first keeper, whose are the boats that were there."""
    page = open_page(chromium, club, 1280, 800)
    join(page, invited(club.store, "keeper"), "kim")
    expect(page.get_by_role("heading", name="Teal")).to_be_visible()
    yield page
    page.context.close()


def test_a_keeper_invites_a_racer_who_joins_forgets_the_password_and_comes_back(club, keeper, window, errors):
    keeper.goto("/club")
    keeper.get_by_role("button", name="Invite a").click()
    link = keeper.get_by_test_id("invitation").inner_text()
    look_with_axe(keeper)
    sam = window(390, 844)
    with listened(sam, errors):
        sam.goto("/club")  # whoever is not signed in sees the way in, wherever they went
        expect(sam.get_by_role("heading", name="Sign in")).to_be_visible()
        look_with_axe_gate(sam)
        codes = join(sam, link, "sam")
        sam.goto("/settings")
        sam.get_by_role("button", name="Sign out").first.click()
        sam.get_by_role("button", name="Password forgotten").click()
        sam.get_by_label("Name").fill("sam")
        sam.get_by_label("Recovery code").fill(codes[4])
        sam.get_by_label("New password").fill("lanterns swing over cold water")
        sam.get_by_role("button", name="Set and sign in").click()
        expect(sam.get_by_text("No boats yet")).to_be_visible()
        sam.goto("/settings")
        expect(sam.get_by_role("heading", name="Your account")).to_be_visible()
        expect(sam.get_by_text("9 recovery codes are left")).to_be_visible()
        look_with_axe(sam)
    assert [e for e in errors if "401" not in e] == []
    keeper.goto("/club")
    expect(keeper.get_by_role("row", name=re.compile("sam"))).to_be_visible()


def look_with_axe_gate(page):
    """The way in has no switch for the look: it takes the one that was chosen last."""
    look_with_axe(page, ("paper",))


def test_a_wrong_password_is_said_calmly_and_nothing_is_lost(window, club, keeper):
    page = window()
    page.goto("/")
    sign_in(page, "kim", "not the password")
    expect(page.get_by_role("alert")).to_contain_text("do not belong together")
    expect(page.get_by_label("Name")).to_have_value("kim")
    sign_in(page, "kim")
    expect(page.get_by_role("heading", name="Teal")).to_be_visible()


@pytest.mark.long
def test_a_link_shows_the_boat_and_is_taken_back(window, club, keeper):
    keeper.goto("/")
    expect(keeper.get_by_role("heading", name="Teal")).to_be_visible()
    keeper.get_by_role("button", name="Manage", exact=False).first.click()
    expect(keeper.get_by_text("Only you see this boat.")).to_be_visible()
    keeper.get_by_role("button", name="Make a link to look at").click()
    link = keeper.get_by_test_id("share-link").inner_text()
    guest = window()
    guest.goto(link)
    expect(guest.get_by_test_id("share")).to_contain_text("This is kim's boat")
    expect(guest.get_by_role("heading", name="Teal")).to_be_visible()
    assert "#" not in guest.url  # the secret is out of the address again
    settled(guest)
    look_with_axe(guest)
    with guest.expect_download() as sheet:  # a download carries no header; the way goes through the share
        guest.get_by_role("link", name="Sheet").click()
    assert sheet.value.suggested_filename.endswith(".pdf")
    keeper.get_by_role("button", name="Take back").click()
    expect(keeper.get_by_text("Only you see this boat.")).to_be_visible()
    guest.reload()
    expect(guest.get_by_role("heading", name="Sign in")).to_be_visible()


def test_a_boat_shared_with_a_racer_becomes_their_own(window, club, keeper):
    other = window()
    join(other, invited(club.store), "ada")
    keeper.goto("/")
    settled(keeper)  # a dialog opened before the page has gone on to the boat would close
    keeper.get_by_role("button", name="Manage", exact=False).first.click()
    keeper.get_by_label("Racer of the club").fill("ada")
    keeper.get_by_role("button", name="Share", exact=True).click()
    expect(keeper.get_by_text("ada, to look at")).to_be_visible()
    other.goto("/club")
    other.get_by_role("button", name="Open Teal").click()
    expect(other.get_by_role("heading", name="Teal")).to_be_visible()
    other.get_by_role("button", name="Make this setup my own boat").click()
    expect(other.get_by_role("heading", name="Teal")).to_be_visible()
    expect(other.get_by_test_id("share")).to_have_count(0)
    expect(other.get_by_role("link", name="New boat")).to_be_visible()


def test_a_passkey_of_the_browsers_own_signs_in(window, club, keeper):
    """Chromium's virtual authenticator: an implementation of WebAuthn that is not ours."""
    page = window()
    devices = page.context.new_cdp_session(page)
    devices.send("WebAuthn.enable")
    told = {"protocol": "ctap2", "transport": "internal", "hasResidentKey": True, "hasUserVerification": True}
    told |= {"isUserVerified": True, "automaticPresenceSimulation": True}
    devices.send("WebAuthn.addVirtualAuthenticator", {"options": told})
    page.goto("/settings")
    sign_in(page, "kim")
    page.get_by_role("button", name="Add a passkey").click()
    page.get_by_label("Your password").fill(WORDS["kim"])
    page.get_by_role("button", name="Add the passkey").click()
    expect(page.get_by_text("Passkey of")).to_be_visible()
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_role("button", name="Use a passkey").click()
    expect(page.get_by_role("heading", name="Teal")).to_be_visible()
    page.goto("/settings")
    expect(page.get_by_role("heading", name="Your account")).to_be_visible()
    expect(page.get_by_role("status").filter(has_text="passkey added")).to_be_visible()  # at the next sign-in
    page.get_by_role("button", name="It was me").click()
    expect(page.get_by_text("Was it not you?")).to_have_count(0)
    page.get_by_role("button", name="Take off").click()
    page.get_by_label("Your password").fill(WORDS["kim"])
    page.get_by_role("button", name="Take it off").click()
    expect(page.get_by_text("Passkey of")).to_have_count(0)


def teaching(store, count):
    """Racers who share what their boats showed."""
    runs = [season([Day(setup=samples.setup(), outing=n) for n in range(2)], 70 + k) for k in range(count)]
    for k, of_racer in enumerate(runs):
        with store.transaction() as session:
            session.add(row := Racer(name=f"racer {k}"))
            session.flush()
            racer = row.id
        priors.exchange(store, racer, summary_of(of_racer), True)


@pytest.mark.long
def test_a_racer_reads_what_leaves_and_shares_it_with_the_club(window, club, keeper, errors):
    keeper.goto("/")
    expect(keeper.get_by_role("heading", name="Teal")).to_be_visible()
    expect(keeper.get_by_role("button", name=re.compile(r"^All \d+$"))).to_be_visible()
    expect(keeper.get_by_role("button", name="racers' boats")).to_have_count(0)
    teaching(club.store, 3)
    with listened(keeper, errors):
        keeper.goto("/club")
        section = keeper.locator("section", has=keeper.get_by_role("heading", name="What boats here have in common"))
        expect(section.get_by_text("No runs, dates, places, names, setups or parts.")).to_be_visible()
        monos = section.get_by_role("row", name="Monos")
        expect(monos).to_contain_text("yes")
        section.get_by_role("button", name="Share what my boats show").click()
        expect(section.get_by_text("You have shared this since")).to_be_visible()
        look_with_axe(keeper)
        section.get_by_role("button", name="Stop sharing").click()
        expect(section.get_by_role("button", name="Share what my boats show")).to_be_visible()
    keeper.goto("/")
    expect(keeper.get_by_role("heading", name="Teal")).to_be_visible()
    expect(keeper.get_by_role("button", name="from 3 racers' boats")).to_be_visible()
    keeper.get_by_role("button", name="as bought").click()
    expect(keeper.get_by_role("button", name="as bought")).to_have_attribute("aria-pressed", "true")
    keeper.get_by_role("button", name="from 3 racers' boats").click()
    keeper.goto("/club")
    keeper.get_by_role("button", name="Recalculate").click()
    expect(keeper.get_by_text("Recalculated from all runs up to now.")).to_be_visible()
    expect(monos).to_have_count(0)  # these racers have no runs here, so nothing of theirs stays


@pytest.mark.long
def test_who_comes_after_at_the_same_machine_sees_nothing_of_who_was_before(window, club, keeper):
    page = window(worker=True)
    page.goto("/")
    sign_in(page, "kim")
    expect(page.get_by_role("heading", name="Teal")).to_be_visible()
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    expect(page.get_by_role("heading", name="Teal")).to_be_visible()
    page.goto("/settings")
    page.get_by_role("button", name="Sign out", exact=True).click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    kept = page.evaluate("caches.keys().then((names) => names.filter((n) => n.includes('answers')))")
    assert kept == []
    page.goto("/")
    join(page, invited(club.store), "bo")
    expect(page.get_by_text("Teal")).to_have_count(0)


def newest_login(store):
    with store.transaction() as session:
        newest = select(DeviceRow).order_by(DeviceRow.id.desc()).limit(1)
        session.delete(session.scalar(newest.execution_options(**EVERY_RACER)))


def test_a_login_that_was_ended_elsewhere_leaves_nothing_in_the_browser(window, club, keeper):
    """Its boats stayed readable to whoever opened that browser without network."""
    page = window(worker=True)
    page.goto("/")
    sign_in(page, "kim")
    expect(page.get_by_role("heading", name="Teal")).to_be_visible()
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    expect(page.get_by_role("heading", name="Teal")).to_be_visible()
    page.wait_for_function("async () => (await caches.keys()).some((name) => name.includes('answers'))")
    newest_login(club.store)
    page.reload()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    page.wait_for_function("async () => !(await caches.keys()).some((name) => name.includes('answers'))")
    page.context.set_offline(True)
    page.goto("/")
    expect(page.get_by_text("Teal")).to_have_count(0)


def test_signing_out_says_what_waits_and_keeps_it_for_its_racer(window, club, keeper):
    """A run typed without network went with the sign-out, without a word."""
    page = window()
    page.goto("/settings")
    sign_in(page, "kim")
    expect(page.get_by_role("heading", name="Your account")).to_be_visible()
    page.route("**/runs/typed", lambda route: route.abort())
    page.evaluate("""() => new Promise((done) => {
        const open = indexedDB.open('kunstflug-outbox-kim', 1);
        open.onupgradeneeded = () => { const db = open.result; db.createObjectStore('entries', { keyPath: 'n' });
          db.createObjectStore('made'); db.createObjectStore('counts'); };
        open.onsuccess = () => {
          const work = open.result.transaction('entries', 'readwrite');
          work.objectStore('entries').put({ n: 1, key: 'waits-0001', method: 'POST', path: '/api/setups/1/runs/typed',
            body: { started_at: '2026-06-06T09:00:00Z' }, words: 'a run', at: Date.now(), tried: false });
          work.oncomplete = () => { open.result.close(); done(true); };
        };
    })""")
    page.reload()
    page.get_by_role("button", name="Sign out", exact=True).click()
    expect(page.get_by_text("One thing that you typed here could not be sent yet")).to_be_visible()
    page.get_by_role("button", name="Cancel").click()
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.locator("form").get_by_role("button", name="Sign out", exact=True).click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    page.unroute("**/runs/typed")
    with page.expect_response("**/runs/typed") as sent:
        sign_in(page, "kim")
    assert sent.value.status == 201
