/**
 * What this screen fetches when it is asked for. It stands here, not in the component: the router takes any component
 * whose source holds an import of this kind for one that is fetched itself.
 */
export const heat = () => import('./Heat.svelte');
export const search = () => import('./Search.svelte');
export const sweepMap = () => import('$lib/charts/SweepMap.svelte');
export const dangers = () => import('./Dangers.svelte');
export const guesses = () => import('./Guesses.svelte');
export const partSheet = () => import('$lib/ui/PartSheet.svelte');
export const swap = () => import('./Swap.svelte');
