/** A request that makes something: sent again after a lost connection, it makes it once. */
export class Once {
  private key = '';
  private body = '';

  /** The header to send with a body: the same key for the same body until it arrived. */
  header(body: unknown): { 'Idempotency-Key': string } {
    const text = JSON.stringify(body);
    if (!this.key || text !== this.body) this.key = newKey();
    this.body = text;
    return { 'Idempotency-Key': this.key };
  }

  /** It arrived: the same body is a new request from now on. */
  arrived(): void {
    this.key = '';
  }
}

function newKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('');
}
