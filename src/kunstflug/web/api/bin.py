"""The bin: taken out, put back, gone for good."""

from typing import Literal

from kunstflug.services.bin import bin
from kunstflug.services.shared import views
from kunstflug.web.api.deps import Id, StoreOf, Teaches, routes_of

router = routes_of("bin", Teaches)

Kind = Literal["boat", "setup", "run", "part", "tub-test", "controller-log"]


@router.get("/bin")
def listing(store: StoreOf) -> list[views.BinnedView]:
    """What lies in the bin, newest first."""
    return bin.listing(store)


@router.delete("/boats/{boat_id}")
def bin_boat(boat_id: Id, store: StoreOf) -> views.BinnedView:
    """Puts a boat into the bin, with all that belongs to it."""
    return bin.take_out(store, "boat", boat_id)


@router.delete("/setups/{setup_id}")
def bin_setup(setup_id: Id, store: StoreOf) -> views.BinnedView:
    """Puts a setup into the bin, with its runs."""
    return bin.take_out(store, "setup", setup_id)


@router.delete("/runs/{run_id}")
def bin_run(run_id: Id, store: StoreOf) -> views.BinnedView:
    """Puts a run into the bin."""
    return bin.take_out(store, "run", run_id)


@router.delete("/runs/{run_id}/controller-log")
def bin_log(run_id: Id, store: StoreOf) -> views.BinnedView:
    """Puts the controller log of a run into the bin."""
    return bin.take_out(store, "controller-log", run_id)


@router.delete("/parts/{part_id}")
def bin_part(part_id: Id, store: StoreOf) -> views.BinnedView:
    """Puts a part into the bin that no setup refers to."""
    return bin.take_out(store, "part", part_id)


@router.delete("/tub-tests/{test_id}")
def bin_tub_test(test_id: Id, store: StoreOf) -> views.BinnedView:
    """Puts a tub test into the bin."""
    return bin.take_out(store, "tub-test", test_id)


@router.post("/bin/{kind}/{key}/restore")
def put_back(kind: Kind, key: Id, store: StoreOf) -> views.BinnedView:
    """Puts something back that lies in the bin."""
    return bin.put_back(store, kind, key)


@router.delete("/bin/{kind}/{key}", status_code=204)
def destroy(kind: Kind, key: Id, store: StoreOf) -> None:
    """Deletes for good what lies in the bin."""
    bin.destroy(store, kind, key)
