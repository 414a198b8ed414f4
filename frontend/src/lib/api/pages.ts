/** Lists come in pages; what every screen needs whole is asked for page by page. */
type Page<T> = { items: T[]; next: string | null };

export async function allPages<T>(fetch: (after: string | undefined) => Promise<Page<T>>): Promise<T[]> {
  const found: T[] = [];
  let after: string | undefined;
  do {
    const page = await fetch(after);
    found.push(...page.items);
    after = page.next ?? undefined;
  } while (after !== undefined);
  return found;
}
