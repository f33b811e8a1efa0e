import type {
  PublicKeyCredentialCreationOptionsJSON,
  PublicKeyCredentialRequestOptionsJSON,
} from "@simplewebauthn/browser";

/** Why a passkey was not made or shown, in words for the person. */
export class NoPasskey extends Error {}

/** What makes and shows them: loaded where it is wanted. */
const library = () => import("@simplewebauthn/browser");

/** Makes a passkey on this device for whoever is signed in. @throws {NoPasskey} */
export async function addPasskey(current: string): Promise<void> {
  const { startRegistration } = await library();
  const optionsJSON = await ask<PublicKeyCredentialCreationOptionsJSON>({ do: "begin-add", current });
  const response = await startRegistration({ optionsJSON }).catch(explain("No passkey was made."));
  await ask({ do: "add", response });
}

/** Signs in by a passkey. @param to where one wanted to go @returns where to go on @throws {NoPasskey} */
export async function enterByPasskey(to: string | null): Promise<string> {
  const { startAuthentication } = await library();
  const optionsJSON = await ask<PublicKeyCredentialRequestOptionsJSON>({ do: "begin" });
  const response = await startAuthentication({ optionsJSON }).catch(explain("No passkey was chosen."));
  const query = to === null ? "" : `?${new URLSearchParams({ to }).toString()}`;
  return (await ask<{ to: string }>({ do: "enter", response }, query)).to;
}

async function ask<T>(deed: object, query = ""): Promise<T> {
  const headers = { "content-type": "application/json" };
  const answer = await fetch(`/passkeys${query}`, { method: "POST", headers, body: JSON.stringify(deed) }).catch(() => {
    throw new NoPasskey("The server cannot be reached. Try again when the connection is back.");
  });
  const said = (await answer.json().catch(() => ({}))) as T & { message?: string };
  if (!answer.ok) throw new NoPasskey(said.message ?? "The server did not take this. Try again.");
  return said;
}

/** What browsers refuse with (WebAuthn 3, 5.1.3 and 5.1.4). @param none what is said where the person wanted none */
const explain = (none: string) => (refused: unknown) => {
  const { name } = refused as Error;
  if (name === "InvalidStateError") throw new NoPasskey("There is a passkey of yours on this device already.");
  if (name === "NotAllowedError" || name === "AbortError") throw new NoPasskey(none);
  throw new NoPasskey("This browser has no passkeys, or not for this address.");
};
