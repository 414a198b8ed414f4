/** What is typed survives a reload: small JSON values in the browser's own store. */
export function keep(key: string, value: unknown): void {
  try {
    localStorage.setItem(`kunstflug.${key}`, JSON.stringify(value));
  } catch {
    // A full or forbidden store must not stop anybody from typing.
  }
}

export function kept<T>(key: string): T | undefined {
  try {
    const text = localStorage.getItem(`kunstflug.${key}`);
    return text === null ? undefined : (JSON.parse(text) as T);
  } catch {
    return undefined;
  }
}

export function forget(key: string): void {
  try {
    localStorage.removeItem(`kunstflug.${key}`);
  } catch {
    // nothing to forget
  }
}
