import { request, type APIRequestContext, type APIResponse } from "@playwright/test";
import { expect, test } from "./test";
import { sharedTake, signUp } from "./steps";

const PUPILS = 300;
/** As many as a browser test can have on their way at once without asking more of the computer than pupils would. */
const AT_ONCE = 24;
/** A minute on a machine that does nothing else; two are meant, and a busy one gets twice that. */
const MOST_SECONDS = 240;
const json = (data: object) => ({ data, headers: { "content-type": "application/json" } });

test("a class of 300 behind one address opens, gives its password, watches, answers and nods, and nobody is refused", async ({
  page,
}, { project }) => {
  test.setTimeout(600_000);
  await signUp(page);
  const { link, recordingId: id } = await sharedTake(page, 6);
  const change = (form: Record<string, string>) => page.request.post(`/recordings/${id}`, { form });
  const ask = { kind: "nod", question: "Clear?", choices: [], due: null, zone: "Europe/London" };
  expect((await change({ do: "ask", ask: JSON.stringify(ask), version: "0" })).status()).toBe(200);
  expect((await change({ do: "share", password: "third bay" })).status()).toBe(200);
  const path = new URL(link).pathname;
  const version = Number(/"version",(\d+)/.exec(await (await page.request.get(`${path}.data`)).text())?.[1] ?? 0);

  const refused: string[] = [];
  const asked = async (what: string, answer: Promise<APIResponse>, expected = 200) => {
    const { status } = { status: (await answer).status() };
    if (status !== expected) refused.push(`${what}: ${status}`);
  };
  const pupil = async (as: APIRequestContext, n: number) => {
    await asked("the closed page", as.get(path), 403);
    if (n % 2 === 0)
      await asked(
        "a wrong password",
        as.post(`${path}/enter`, { form: { do: "password", password: `bay ${n}` } }),
        422,
      );
    await asked("the password", as.post(`${path}/enter`, { form: { do: "password", password: "third bay" } }));
    await asked("the page", as.get(path));
    await asked("a visit", as.post(`${path}/visit`, json({ invite: null, named: true })));
    for (const file of ["main.m3u8", "screen/init.mp4", "screen/1.m4s", "microphone/1.m4s"])
      await asked(file, as.get(`${path}/r1/${file}`));
    await asked("a name", as.post(`${path}/say`, json({ do: "name", name: `Pupil ${n}` })));
    const spans = [{ from: 0, to: 4_000_000, rate: 1 }];
    await asked("what was watched", as.post(`${path}/spans`, json({ batch: crypto.randomUUID(), spans })));
    await asked("a reaction", as.post(`${path}/say`, json({ do: "react", kind: "got-it", at: 1_000_000 })));
    await asked("a nod", as.post(`${path}/say`, json({ do: "answer", answer: { kind: "nod" }, version })));
  };
  const begun = Date.now();
  let next = 0;
  const one = async () => {
    for (let n = next++; n < PUPILS; n = next++) {
      const as = await request.newContext({ baseURL: project.use.baseURL });
      await pupil(as, n);
      await as.dispose();
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, one));
  expect(refused.slice(0, 10), `${refused.length} refused`).toEqual([]);
  // Limits are counted by the minute and the quarter of an hour: a class that took longer would not have met them.
  expect((Date.now() - begun) / 1000).toBeLessThan(MOST_SECONDS);
  await page.goto(link);
  await page.getByRole("tab", { name: "People" }).click();
  await expect(page.getByRole("region", { name: "Answered", exact: true })).toContainText(String(PUPILS));
});
