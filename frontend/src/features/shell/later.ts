/**
 * What this screen fetches when it is asked for. It stands here, not in the component: the router takes any component
 * whose source holds an import of this kind for one that is fetched itself.
 */
export const commands = () => import('./Commands.svelte');
/** The way in, for whoever is not signed in. */
export const gate = () => import('$features/account/Gate.svelte');
/** Where a number comes from, on any screen. */
export const origin = () => import('$features/origin/Origin.svelte');
export const keys = () => import('./Keys.svelte');
export const manage = () => import('$lib/ui/Manage.svelte');
export const conflict = () => import('$lib/ui/Conflict.svelte');
