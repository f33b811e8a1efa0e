import type { Page } from "@playwright/test";
import { pushService, TellingBrowser } from "../testing/push-service";
import { expect, test } from "./test";
import { tellNow } from "./minutes";
import { another, commentAsGuest, fold, sharedTake, signUp, sound } from "./steps";

/** What of a service worker's scope is asked for here; its types are not those of pages. */
interface WorkerScope {
  clients: object;
  registration: ServiceWorkerRegistration;
}
declare const ExtendableEvent: typeof Event;

/** The browser is told by a service that can be reached here: its own cannot. What else it does is its own. */
const reachedBy = (page: Page, { subscription }: TellingBrowser) =>
  page.addInitScript((made) => {
    let has = false;
    const subscription = {
      toJSON: () => made,
      unsubscribe: () => {
        has = false;
        return Promise.resolve(true);
      },
    } as unknown as PushSubscription;
    PushManager.prototype.subscribe = () => {
      has = true;
      return Promise.resolve(subscription);
    };
    PushManager.prototype.getSubscription = () => Promise.resolve(has ? subscription : null);
  }, subscription);

test.use({ serviceWorkers: "allow" });

test("somebody is told in their browser while no page is open, and not mailed as well", async ({
  page,
  browser,
  dataDir,
}) => {
  const service = await pushService();
  const told = new TellingBrowser(`${service.url}/orla`);
  await reachedBy(page, told);
  const email = await signUp(page);
  const { link } = await sharedTake(page, 4, "Lead flashing", "voice");
  await page.goto("/account");
  await fold(page, "How you are told").click();
  const here = page.getByRole("region", { name: "In this browser" });
  await sound(page, "being told in a browser");
  await page.context().grantPermissions(["notifications"]);
  await here.getByRole("button", { name: "Tell me in this browser" }).click();
  await expect(here.getByRole("status")).toHaveText("This browser tells you, until you sign out here.");
  await expect(page.getByText("tells you what is new")).toBeVisible();

  const ida = await another(browser);
  await commentAsGuest(ida, link, "Which side goes under?", "Ida Crake");
  await tellNow(dataDir, email);
  await expect.poll(() => service.sent.length).toBe(1);

  // From here on the browser's own: its worker is told, and shows it.
  const { origin } = new URL(page.url());
  const cdp = await page.context().newCDPSession(page);
  const registered = new Promise<string>((found) =>
    cdp.on("ServiceWorker.workerRegistrationUpdated", ({ registrations }) => {
      const ours = registrations.find(({ scopeURL, isDeleted }) => !isDeleted && scopeURL.startsWith(origin));
      if (ours) found(ours.registrationId);
    }),
  );
  await cdp.send("ServiceWorker.enable");
  const pushed = told.open(service.sent[0]!);
  const registrationId = await registered;
  const shown = () =>
    page.evaluate(async () => {
      const registration = await navigator.serviceWorker.ready;
      return (await registration.getNotifications()).map(({ title, body }) => ({ title, body }));
    });
  // Told again, as by a service that is not sure, it shows it once.
  await expect(async () => {
    await cdp.send("ServiceWorker.deliverPushMessage", { origin, registrationId, data: JSON.stringify(pushed) });
    await expect
      .poll(shown, { timeout: 8_000 })
      .toEqual([{ title: "Lead flashing", body: "Ida Crake comments at 0:00: “Which side goes under?”" }]);
  }).toPass({ timeout: 60_000 });

  const letter = ida.getByRole("article").filter({ hasText: email });
  await signUp(ida, "Whoever Looks");
  await expect(async () => {
    await ida.goto("/post");
    await expect(letter).toContainText("Not sent: their browser has told them.", { timeout: 1_000 });
  }).toPass();

  // A press on it opens a page of its own: the one that is open may be in the middle of something.
  const [worker] = page.context().serviceWorkers();
  const opened = await worker!.evaluate(async () => {
    const { clients, registration } = self as unknown as WorkerScope;
    const opened = new Promise((done) => {
      Object.getPrototypeOf(clients).openWindow = (url: string) => Promise.resolve(done(url));
    });
    const [notification] = await registration.getNotifications();
    const press = Object.assign(new ExtendableEvent("notificationclick"), { notification });
    self.dispatchEvent(press);
    return { opened: await opened, left: (await registration.getNotifications()).length };
  });
  expect(opened).toEqual({ opened: link, left: 0 });

  await here.getByRole("button", { name: "No more in this browser" }).click();
  await expect(here.getByRole("button", { name: "Tell me in this browser" })).toBeVisible();
  await expect(page.getByText("tells you what is new")).toHaveCount(0);
  await ida.context().close();
  await service.close();
});
