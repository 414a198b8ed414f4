/**
 * Who is signed in, where there are accounts, and through whose share the screen is looking.
 *
 * A share is kept for this tab only: another tab shows one's own boats.
 */
import { LAST } from '$lib/offline/store';
import { api, ask, askNothing, onRefusal, onShare, Problem, type AccountOut } from '$lib/api/client';

const SHARE = 'kunstflug.share';
const READ = 'kunstflug.news';
/** Answers that the page's worker kept; another racer at the same machine must not see them. */
const KEPT_ANSWERS = 'kunstflug-answers-1';

class Account {
  seen = $state.raw<AccountOut>({
    accounts: false,
    demo: false,
    name: null,
    role: null,
    sees: '',
    writes: true,
    boat_id: null,
    news: [],
  });
  /** Whether the server has said who is there. */
  known = $state(false);
  /** What the screen is looking through: a share's number, a link's secret, the club; nothing for one's own. */
  share = $state(globalThis.sessionStorage?.getItem(SHARE) ?? '');

  /** Whether nothing can be shown before somebody signs in. */
  readonly shut = $derived(this.seen.accounts && !this.seen.name && !this.seen.sees);
  /** What was done with the keys of the account since somebody last read of it in this browser. */
  readonly news = $derived(this.seen.news.filter((one) => one.at > this.read));
  private read = $state(globalThis.localStorage?.getItem(READ) ?? '');

  readNews(): void {
    this.read = this.seen.news[0]?.at ?? this.read;
    localStorage.setItem(READ, this.read);
  }

  readonly guest = $derived(this.seen.role === 'guest');
  readonly keeper = $derived(this.seen.role === 'keeper');

  /** Asks who is there; whether this page may go on. Where somebody else was here before, it begins anew without them. */
  async load(): Promise<boolean> {
    try {
      this.seen = await ask(api.GET('/api/account'));
    } catch (error) {
      if (!(error as Problem).status || !this.share) return true;
      this.look(''); // taken back meanwhile
      this.seen = await ask(api.GET('/api/account'));
    } finally {
      this.known = true;
    }
    // Signed out elsewhere: this browser, too, keeps nothing of them.
    if (this.seen.accounts && !this.seen.name && !this.seen.sees) await forgetAnswers();
    const stays = !(await this.another());
    if (!stays) location.reload();
    return stays;
  }

  /** Whoever has just signed in goes in; what this browser kept of somebody else stays behind. */
  async enter(path: string): Promise<void> {
    this.seen = await ask(api.GET('/api/account'));
    await this.another();
    this.open(path);
  }

  /** Whether somebody else was here before; they are not from here on. */
  private async another(): Promise<boolean> {
    const { name } = this.seen;
    if (!name || localStorage.getItem(LAST) === name) return false;
    localStorage.setItem(LAST, name);
    await forgetAnswers();
    return true;
  }

  /** Looks through a share from here on, or at one's own boats again. */
  look(share: string): void {
    this.share = share;
    if (share) sessionStorage.setItem(SHARE, share);
    else sessionStorage.removeItem(SHARE);
  }

  /** The whole page anew: every screen holds something of whoever looked before. */
  open(path: string, share = ''): void {
    this.look(share);
    location.assign(path);
  }

  async signOut(): Promise<void> {
    await askNothing(api.POST('/api/account/sign-out'));
    await forgetAnswers();
    this.open('/');
  }
}

const SOON_MS = 2000;

/** Forgets what was kept, and what is on its way: the page's worker is told, which keeps it. */
async function forgetAnswers(): Promise<void> {
  const worker = navigator.serviceWorker?.controller;
  if (worker)
    await new Promise<void>((done) => {
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = () => done();
      setTimeout(done, SOON_MS);
      worker.postMessage('forget', [port2]);
    });
  if ('caches' in window) await caches.delete(KEPT_ANSWERS);
}

export const account = new Account();
onShare(() => account.share);
onRefusal(() => {
  if (!account.known || !account.seen.name) return;
  account.seen = { ...account.seen, name: null, role: null, news: [] };
  void forgetAnswers();
});
