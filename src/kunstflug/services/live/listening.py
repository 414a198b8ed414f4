"""Listening to a boat that is being driven, and telling everybody who looks.

One process listens to a device; the database says which. It tells what it knows to all that look, in whatever process
they are answered, over a socket of this machine. Where it dies, the next one that is asked takes over from what is
kept, and what was sent meanwhile comes again from a device that heeds what is acknowledged.
"""

import asyncio
import contextlib
import logging
import secrets
from collections.abc import AsyncIterator
from typing import Final

from kunstflug.core.quantity.errors import KunstflugError, StoreUnavailable
from kunstflug.documents.live import DriveView, Link, LiveOut, live_out
from kunstflug.files.stream import kept_line
from kunstflug.services.live import drives
from kunstflug.services.live.bridges import Device, reached
from kunstflug.services.live.drives import Following
from kunstflug.store.acting import Acting, acting, acting_now
from kunstflug.store.database import Store

SAY_EVERY_S: Final = 0.04
QUIET_EVERY_S: Final = 0.5
KEEP_EVERY_S: Final = 0.2
AGAIN_S: Final = 0.5
HOST: Final = "127.0.0.1"
SILENT_S: Final = 1.0
_log = logging.getLogger("kunstflug.live")
MOST_BEHIND: Final = 256 * 1024
"""Bytes that somebody who looks may be behind; more are not sent to him."""
ENDS: Final = b"end\n"


class Listener:
    """Listens to the device of one drive until the boat is out of the water.

    Parameters
    ----------
    part : name of this listening.
    """

    def __init__(self, store: Store, view: DriveView, following: Following, part: str) -> None:
        self.store, self.view, self.following, self.part = store, view, following, part
        self.kept = self.waiting = 0
        self._lines: list[bytes] = []
        self._number = 0
        self._reached_at = 0
        self._device: Device | None = None
        self._link = Link.WAITING
        self._clients: set[asyncio.StreamWriter] = set()
        self._over = asyncio.Event()
        self._heard = self._said = 0.0
        self.run_id: int | None = None
        self._new = asyncio.Event()
        self._writing = asyncio.Lock()

    async def run(self) -> None:
        """Listens, keeps and tells until the end; a run is made of what was kept."""
        self._heard = asyncio.get_running_loop().time()
        if self.following.reader.ended:
            self._over.set()
        work = [asyncio.create_task(part()) for part in (self._listen, self._keep, self._talk)]
        try:
            await self._over.wait()
            for task in (work[0], work[2]):
                task.cancel()
            await asyncio.gather(work[0], work[2], return_exceptions=True)
            await self._all_kept()
            ended = await asyncio.to_thread(drives.finish, self.store, self.view.id)
            self.run_id, self._link = ended.run_id, Link.ENDED
            self._say()
        finally:
            for task in work:
                task.cancel()
            await asyncio.gather(*work, return_exceptions=True)
            with contextlib.suppress(KunstflugError):
                await asyncio.shield(self._write())
            for client in self._clients:
                client.close()

    async def look(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """Somebody of this machine looks, or asks for the end."""
        writer.write(self.part.encode() + b"\n")
        self._clients.add(writer)
        try:
            self._say(writer)
            while asked := await reader.readline():
                if asked == ENDS:
                    self._over.set()
        except (OSError, ValueError):
            pass
        finally:
            self._clients.discard(writer)
            writer.close()

    async def _listen(self) -> None:
        """Calls the device, and again where it went away."""
        while True:
            try:
                async with reached(self.view.source) as device:
                    self._device = device
                    self._reached_at = self.kept + len(self._lines)
                    await self._hear(device)
            except OSError:
                pass
            except Exception:  # whatever a device says or is, it is called again
                _log.exception("a device could not be listened to")
            self._device = None
            if self._link is Link.THERE:
                self._link = Link.LOST
                self._say()
            await asyncio.sleep(AGAIN_S)

    async def _hear(self, device: Device) -> None:
        loop = asyncio.get_running_loop()
        while lines := await device.lines():
            heard = False
            for line in lines:
                self._lines.append(line)
                heard = self.following.take(line) is not None or heard
            if heard:
                self._heard, self._link = loop.time(), Link.THERE
            self._new.set()
            if loop.time() - self._said >= SAY_EVERY_S:
                self._say()
            if self.following.reader.ended:
                await self._all_kept()
                self._over.set()
                return

    async def _talk(self) -> None:
        """Tells those who look though nothing arrives: the heat goes on."""
        loop = asyncio.get_running_loop()
        while True:
            await asyncio.sleep(QUIET_EVERY_S)
            now = loop.time()
            if now - self._heard > drives.GIVES_UP_S:
                self._over.set()
            if now - self._said >= QUIET_EVERY_S:
                self._say()

    async def _keep(self) -> None:
        while True:
            await self._new.wait()
            await asyncio.sleep(KEEP_EVERY_S)
            self._new.clear()
            try:
                await self._write()
            except StoreUnavailable:
                self._new.set()  # nothing is thrown away, nothing is acknowledged

    async def _all_kept(self) -> None:
        while self._lines:
            try:
                await self._write()
            except StoreUnavailable:
                await asyncio.sleep(AGAIN_S)

    async def _write(self) -> None:
        """Keeps what waits, as one block, and acknowledges it; a block of which nobody knows goes again as it was."""
        async with self._writing:
            batch = self._lines[: self.waiting] if self.waiting else self._lines[:]
            if not batch:
                return
            self.waiting = len(batch)
            await asyncio.to_thread(drives.keep, self.store, self.view.id, self.part, self._number, batch)
            del self._lines[: len(batch)]
            self.waiting = 0
            self._number += 1
            self.kept += len(batch)
            if self._device is not None and self.kept > self._reached_at:
                self._device.say(kept_line(self.kept - self._reached_at, self.following.reader.unread))

    def state(self) -> LiveOut:
        """What is known now."""
        now = asyncio.get_running_loop().time()
        watch, reader = self.following.watch, self.following.reader
        state = watch.state()
        if now - self._heard > SILENT_S and self._link is not Link.WAITING:
            at = state.time_s + now - self._heard
            watch.go_on(at)
            state = watch.state(at)
        return live_out(state, reader, self._link, self.kept, self.run_id)

    def _say(self, only: asyncio.StreamWriter | None = None) -> None:
        self._said = asyncio.get_running_loop().time()
        if not self._clients:
            return
        line = self.state().model_dump_json().encode() + b"\n"
        for client in [only] if only is not None else list(self._clients):
            if client.transport.get_write_buffer_size() < MOST_BEHIND:
                client.write(line)


class Ear:
    """The listeners of one process."""

    def __init__(self, store: Store) -> None:
        self.store = store
        self._tasks: set[asyncio.Task[None]] = set()

    async def follow(self, drive_id: int) -> AsyncIterator[str]:
        """What is said of a drive, as JSON, until its end; whoever listens.

        Raises
        ------
        NotFound : no such drive.
        """
        while True:
            try:
                found = await asyncio.to_thread(drives.drive, self.store, drive_id)
                if found.ended_at is not None:
                    return
                relayed = await self._relay(drive_id)
            except StoreUnavailable:
                relayed = None  # it is started again
            if relayed is None:
                await asyncio.sleep(AGAIN_S)
                continue
            reader, writer = relayed
            try:
                while line := await reader.readline():
                    yield line.decode().strip()
            except OSError:
                pass
            finally:
                writer.close()

    async def begin(self, drive_id: int) -> None:
        """Listens from now on, whether anybody looks or not; without the database whoever looks first begins it."""
        with contextlib.suppress(StoreUnavailable):
            relayed = await self._relay(drive_id)
            if relayed is not None:
                relayed[1].close()

    async def end(self, drive_id: int) -> DriveView:
        """Ends a drive: whoever listens keeps what there is, and a run is made of it.

        Raises
        ------
        NotFound, OnlyToLookAt : no such drive, or it is only shown to whoever asks.
        """
        await asyncio.to_thread(drives.check_may_end, self.store, drive_id)
        relayed = await self._called(await asyncio.to_thread(drives.relay_of, self.store, drive_id))
        if relayed is not None:
            reader, writer = relayed
            with contextlib.suppress(OSError):
                writer.write(ENDS)
                while await reader.readline():
                    pass
            writer.close()
        return await asyncio.to_thread(drives.finish, self.store, drive_id)

    async def wake(self) -> None:
        """Listens again to what was listened to before this machine went down."""
        open_ones: list[drives.OpenDrive] = []
        with contextlib.suppress(KunstflugError):
            open_ones = await asyncio.to_thread(drives.open_ones, self.store)
        for one in open_ones:
            try:
                with acting(Acting(racer=one.owner) if self.store.accounts else None):
                    if one.over:
                        await asyncio.to_thread(drives.finish, self.store, one.id)
                        continue
                    await self.begin(one.id)
            except Exception:  # a fault of one drive is no fault of another
                _log.exception("drive %d could not be taken up again", one.id)

    async def close(self) -> None:
        """Keeps what was heard, and listens no more."""
        for task in list(self._tasks):
            task.cancel()
        await asyncio.gather(*self._tasks, return_exceptions=True)

    async def _relay(self, drive_id: int) -> tuple[asyncio.StreamReader, asyncio.StreamWriter] | None:
        """A connection to whoever listens; to ourselves where nobody does any more. None where another was faster."""
        seen = await asyncio.to_thread(drives.relay_of, self.store, drive_id)
        who = acting_now()
        # Whoever looks first, a guest with a link even, has it listened to as its owner would, with all that is kept.
        with acting(None if who is None else Acting(racer=who.racer)):
            return await self._heard_from(drive_id, seen)

    async def _heard_from(
        self, drive_id: int, seen: str | None
    ) -> tuple[asyncio.StreamReader, asyncio.StreamWriter] | None:
        return await self._called(seen) or await self._called(await self._listen(drive_id, seen))

    async def _called(self, relay: str | None) -> tuple[asyncio.StreamReader, asyncio.StreamWriter] | None:
        if relay is None:
            return None
        port, part = relay.split("/")
        try:
            reader, writer = await asyncio.wait_for(asyncio.open_connection(HOST, int(port), limit=2**20), 2.0)
        except (OSError, TimeoutError):
            return None
        try:
            if (await asyncio.wait_for(reader.readline(), 2.0)).decode("ascii", "replace").strip() == part:
                return reader, writer
        except (OSError, TimeoutError, ValueError):
            pass
        writer.close()
        return None

    async def _listen(self, drive_id: int, seen: str | None) -> str | None:
        """Becomes the one that listens, from what is kept; where it tells, or None where another was faster."""
        part = secrets.token_hex(8)
        begun: asyncio.Future[Listener] = asyncio.get_running_loop().create_future()

        async def look(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            await (await asyncio.shield(begun)).look(reader, writer)

        server = await asyncio.start_server(look, HOST, 0)
        mine = f"{server.sockets[0].getsockname()[1]}/{part}"
        try:
            if not await asyncio.to_thread(drives.claim, self.store, drive_id, seen, mine):
                server.close()
                return None
            view, following, kept = await asyncio.to_thread(_caught_up, self.store, drive_id)
        except BaseException:
            server.close()
            raise
        listener = Listener(self.store, view, following, part)
        listener.kept = kept
        begun.set_result(listener)
        task = asyncio.create_task(self._until_over(listener, server, mine))
        self._tasks.add(task)
        task.add_done_callback(self._tasks.discard)
        return mine

    async def _until_over(self, listener: Listener, server: asyncio.Server, mine: str) -> None:
        try:
            await listener.run()
        finally:
            server.close()
            with contextlib.suppress(KunstflugError):
                await asyncio.shield(asyncio.to_thread(drives.claim, self.store, listener.view.id, mine, None))


def _caught_up(store: Store, drive_id: int) -> tuple[DriveView, Following, int]:
    """A drive with what follows it, as far as it is kept, and how many lines that are."""
    view = drives.drive(store, drive_id)
    following = drives.begin(store, view.setup_id)
    return view, following, sum(1 for _ in drives.replayed(store, drive_id, following))
