"""What the docs say and can be tried is tried: commands, links, settings, examples, counts."""

import json
import os
import re
from pathlib import Path

import pytest
from tests.launch.test_launch import kunstflug
from tests.launch.whole import told
from typer.testing import CliRunner

from kunstflug import cli
from kunstflug.core.thermal.nodes import HEAT_NODES
from kunstflug.documents.versions import SETUP_VERSION
from kunstflug.launch import ports

ROOT = Path(__file__).parents[2]
PAGES = [
    ROOT / "README.md",
    ROOT / "CONTRIBUTING.md",
    *sorted((ROOT / "docs").glob("*.md")),
    *sorted((ROOT / "docs" / "handbook").glob("*.md")),
]
COMMAND = re.compile(r"(?:^|`|\s)(?:\.venv/bin/)?kunstflug ((?:[a-z]+ ?)+)", re.M)
NUMBERS = {5: "five", 6: "six", 7: "seven", 8: "eight"}


def commands(text):
    """What is called in code: ``forecast``, ``boat export`` ..."""
    code = "\n".join(re.findall(r"```console\n(.*?)```", text, re.S) + re.findall(r"^ {4}(\S.*)$", text, re.M))
    return {match.strip() for match in COMMAND.findall(code)}


def known(words):
    """The longest beginning that is a command, asked for its help."""
    runner = CliRunner()
    for count in range(len(words), 0, -1):
        if runner.invoke(cli.app, [*words[:count], "--help"]).exit_code == 0:
            return words[:count]
    return []


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_every_command_that_is_named_is_there(page):
    for command in commands(page.read_text()):
        words = command.split()
        assert known(words), f"{page.name}: kunstflug {command}"


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_every_link_leads_to_a_file(page):
    for target in re.findall(r"(?<!!)\[[^\]]*\]\(([^)#:]+)\)", page.read_text()):
        if not target.startswith("/"):
            assert (page.parent / target).exists(), f"{page.name}: {target}"


def test_the_handbook_names_no_file_that_a_wheel_has_not():
    for page in (ROOT / "docs" / "handbook").glob("*.md"):
        assert not re.findall(r"docs/[\w./-]+", re.sub(r"\]\([^)]*\)", "", page.read_text())), page.name


def test_make_knows_its_targets():
    targets = set(re.findall(r"^([a-z-]+):", (ROOT / "Makefile").read_text(), re.M))
    for page in PAGES[:2]:
        assert set(re.findall(r"`make ([a-z-]+)`", page.read_text())) <= targets


def test_settings_are_those_that_are_read():
    read = set()
    for file in (ROOT / "src").rglob("*.py"):
        read |= set(re.findall(r"KUNSTFLUG_[A-Z_]+", file.read_text()))
    named = set()
    for page in PAGES:
        named |= set(re.findall(r"KUNSTFLUG_[A-Z_]+", page.read_text()))
    # by the program to its own
    handed_on = {"KUNSTFLUG_WORKER_SOCKET", "KUNSTFLUG_LAN_SOCKET", "KUNSTFLUG_KERNELS", "KUNSTFLUG_LEARNT"}
    tests_own = {"KUNSTFLUG_SLOW", "KUNSTFLUG_ALL"}
    assert named - tests_own <= read
    assert read - handed_on - {"KUNSTFLUG_"} <= named
    readme = (ROOT / "README.md").read_text()
    assert f"on 127.0.0.1; {ports.PORT} |" in readme
    assert f"in the local network, {ports.LAN_PORT};" in readme


def test_the_example_is_of_today_and_runs_as_written():
    example = json.loads((ROOT / "docs" / "example.setup.json").read_text())
    assert example["version"] == SETUP_VERSION
    made = kunstflug("example")
    assert made.returncode == 0
    for text in (made.stdout, json.dumps(example)):
        done = kunstflug("forecast", "-", input=text)
        assert json.loads(done.stdout)["runs"] is True


def test_the_network_has_as_many_nodes_as_are_told():
    assert f"the one network of {NUMBERS[len(HEAT_NODES)]} nodes" in (ROOT / "docs" / "architecture.md").read_text()


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["forecast", "nosuch.json"], "cannot read nosuch.json: No such file or directory"),
        (["nosuch"], "No such command 'nosuch'."),
        (["forecast", "--nope"], "No such option: --nope"),
        (["track"], "Missing argument 'file'."),
    ],
)
def test_errors_are_json_where_that_is_asked_also_of_how_it_was_called(words, says):
    done = kunstflug("--errors", "json", *words)
    assert done.returncode == 2
    assert done.stdout == ""
    assert says.lower() in json.loads(done.stderr.splitlines()[-1])["detail"].lower()


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"version": 99}, "This setup has version 99, and this program reads versions 1 to 3: a newer one wrote it."),
        ({"motor": {"kv": {"value": 2000, "unit": "kW"}}}, "The unit of the motor's KV: should be 'rpm/V'."),
    ],
)
def test_what_is_wrong_with_a_document_is_said_in_the_racers_words(tmp_path, change, says):
    document = json.loads((ROOT / "docs" / "example.setup.json").read_text())
    for part, value in change.items():
        document[part] = {**document[part], **value} if isinstance(value, dict) else value
    file = tmp_path / "Setup.json"
    file.write_text(json.dumps(document))
    assert kunstflug("forecast", str(file)).stderr == f"kunstflug: {says}\n"


def test_a_folder_that_cannot_be_written_and_a_port_for_root_are_sentences(tmp_path, monkeypatch):
    if os.geteuid() != 0:
        pytest.skip("only root can become somebody else")
    home = tmp_path / "home"
    home.mkdir()
    home.chmod(0o777)
    for folder in (tmp_path, *list(tmp_path.parents)[:2]):
        folder.chmod(folder.stat().st_mode | 0o055)
    closed = tmp_path / "closed"
    closed.mkdir(mode=0o555)

    def nobody(**env):
        from kunstflug.core.quantity.errors import StartupProblem
        from kunstflug.launch.folder import check_room

        child = os.fork()
        if child == 0:  # pragma: no cover
            os.setuid(65534)
            said = 0
            try:
                if "port" in env:
                    ports.listen(env["port"])
                else:
                    check_room(env["folder"], new=True)
            except StartupProblem as problem:
                said = 7 if env["says"] in str(problem) else 8
            os._exit(said)
        return os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])

    assert nobody(folder=closed / "data", says="cannot be written; set KUNSTFLUG_RUN") == 7
    if int(Path("/proc/sys/net/ipv4/ip_unprivileged_port_start").read_text()) > 80:
        assert nobody(port=80, says="only for the system's administrator; set KUNSTFLUG_PORT") == 7


def test_an_invitation_is_of_the_running_server_and_makes_no_other(tmp_path, monkeypatch):
    """It made a second private database beside the service's, and always printed port 8417."""
    monkeypatch.setenv("KUNSTFLUG_RUN", str(tmp_path))
    refused = told("account", "invite", env={"KUNSTFLUG_RUN": str(tmp_path)})
    assert refused.returncode != 0
    assert "set KUNSTFLUG_RUN to the folder that has it" in refused.stderr
    assert list(tmp_path.iterdir()) == []
    monkeypatch.delenv("KUNSTFLUG_PORT", raising=False)
    assert ports.reached(tmp_path) == f"http://127.0.0.1:{ports.PORT}"
    ports.say_reached(tmp_path, 9001)
    assert ports.reached(tmp_path) == "http://127.0.0.1:9001"
