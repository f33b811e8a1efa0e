/** Why this browser cannot tell anything, in words for its person. */
export class NoPush extends Error {}

/** Can this browser be told something while no page of ours is open? */
export const canBeTold = () => "serviceWorker" in navigator && "PushManager" in window && "Notification" in window;

/** By what it is told now; null where it is not. */
async function subscription(): Promise<PushSubscription | null> {
  const registration = await navigator.serviceWorker.getRegistration();
  return (await registration?.pushManager.getSubscription()) ?? null;
}

/** Is it, as far as it knows itself? */
export async function isTold(): Promise<boolean> {
  return canBeTold() && Notification.permission === "granted" && (await subscription()) !== null;
}

/**
 * Asks the person and the browser.
 * @param key by which the server signs, base64url
 * @returns by what it is told from now on
 * @throws {NoPush} where it is not
 */
export async function beTold(key: string): Promise<PushSubscriptionJSON> {
  const answer = await Notification.requestPermission();
  if (answer === "denied")
    throw new NoPush("This browser is not allowed to tell you anything from here. Allow it beside the page's address.");
  if (answer !== "granted") throw new NoPush("Nothing was chosen.");
  try {
    await navigator.serviceWorker.register("/shell.js");
    const { pushManager } = await navigator.serviceWorker.ready;
    // One that was made for another server's key cannot be made anew.
    await (await pushManager.getSubscription())?.unsubscribe();
    const made = await pushManager.subscribe({ userVisibleOnly: true, applicationServerKey: key });
    return made.toJSON();
  } catch (cause) {
    throw new NoPush("The service by which this browser is told cannot be reached.", { cause });
  }
}

/** The browser is told nothing any more, whoever would try. @throws {NoPush} where it does not give that up */
export async function beToldNothing(): Promise<void> {
  try {
    await (await subscription())?.unsubscribe();
  } catch (cause) {
    throw new NoPush("Nothing is sent to this browser any more. It could not be told so itself.", { cause });
  }
}
