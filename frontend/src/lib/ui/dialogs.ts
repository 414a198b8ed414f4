/**
 * Escape closes a dialog at once, however soon it comes. The library's dialog also listens to the browser's own report that it
 * has opened or closed, which comes a moment later: an Escape in between was undone by the late "opened", and a dialog opened
 * again in that moment was shut by the late "closed" of the one before. What opens and closes here does so by its own state
 * alone, so the report has nothing to tell and is not passed on.
 */
function unheard(report: Event): void {
  report.stopImmediatePropagation();
}

document.addEventListener(
  'beforetoggle',
  ({ target }) => {
    // On the dialog itself: the report of one that was taken away reaches nobody above it.
    if (target instanceof HTMLDialogElement) target.addEventListener('toggle', unheard, true);
  },
  true,
);
