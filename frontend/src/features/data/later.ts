/** What this screen fetches where there are accounts. */
export const own = () => import('$features/account/Account.svelte');
