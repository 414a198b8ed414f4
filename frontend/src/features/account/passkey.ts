/** Passkeys by the browser: the server's options as the browser wants them, its answer as JSON. */
import { api, ask, askNothing, Problem } from '$lib/api/client';

type Options = Record<string, unknown>;

/** Whether this browser has passkeys, and may use them here: never by an address of numbers. */
export const hasPasskeys = (): boolean =>
  'PublicKeyCredential' in window &&
  'parseRequestOptionsFromJSON' in PublicKeyCredential &&
  !/^[\d.:[\]]+$/.test(location.hostname);

function answered(credential: Credential | null): Record<string, unknown> {
  if (!(credential instanceof PublicKeyCredential)) throw new Problem({ detail: 'No passkey was chosen.' });
  return credential.toJSON() as unknown as Record<string, unknown>;
}

async function asked(of: Promise<Credential | null>): Promise<Record<string, unknown>> {
  try {
    return answered(await of);
  } catch (error) {
    throw error instanceof Problem
      ? error
      : new Problem({ detail: 'No passkey was used. Try again, or use your password.' });
  }
}

export async function signInWithPasskey(): Promise<void> {
  const options = (await ask(api.POST('/api/account/passkey'))) as Options;
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(
    options as unknown as PublicKeyCredentialRequestOptionsJSON,
  );
  const credential = await asked(navigator.credentials.get({ publicKey }));
  await askNothing(api.POST('/api/account/passkey/answer', { body: credential }));
}

export async function makePasskey(password: string): Promise<void> {
  const options = (await ask(api.POST('/api/account/passkeys/question', { body: { password } }))) as Options;
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(
    options as unknown as PublicKeyCredentialCreationOptionsJSON,
  );
  const credential = await asked(navigator.credentials.create({ publicKey }));
  await ask(api.POST('/api/account/passkeys', { body: credential }));
}
