import type { Fetch } from "#capture/outbox/answer";
import type { Outbox } from "#capture/outbox/outbox";
import type { Recorder } from "#capture/recorder";
import { Diary, type DiaryEntry } from "#core/state/diary";

const KEPT_AS = "clear-nod-diary";

let diary: Diary | undefined;
/** What this tab has done for recordings. It outlives a page that is loaded anew. Browser only. */
function theDiary(): Diary {
  if (diary) return diary;
  let kept: DiaryEntry[] = [];
  try {
    kept = JSON.parse(sessionStorage.getItem(KEPT_AS) ?? "[]") as DiaryEntry[];
  } catch {
    // Nothing is kept in this browser: it begins here.
  }
  const made = new Diary(kept);
  window.addEventListener("pagehide", () => {
    try {
      sessionStorage.setItem(KEPT_AS, JSON.stringify(made.entries));
    } catch {
      // As above.
    }
  });
  return (diary = made);
}

/** Notes what a recorder comes to. */
export function noteRecorder(recorder: Recorder): void {
  let before = recorder.snapshot();
  recorder.subscribe(() => {
    const state = recorder.snapshot();
    const take = state.take?.takeId ?? null;
    if (state.phase !== before.phase) theDiary().note("recorder", { phase: state.phase, take });
    if (state.problem && state.problem !== before.problem)
      theDiary().note("recorder", { problem: state.problem, take });
    for (const device of state.lost) if (!before.lost.includes(device)) theDiary().note("lost", { device, take });
    if (state.slowed !== before.slowed) theDiary().note("recorder", { slowed: state.slowed, take });
    before = state;
  });
}

/** Notes why what is sent does not arrive, and that it did. */
export function noteOutbox(outbox: Outbox): void {
  const known = new Map<string, string>();
  outbox.subscribe(() => {
    for (const { take, state } of outbox.snapshot().sending) {
      const { hold, message, complete } = state;
      const now = complete ? "complete" : (hold ?? "going");
      if (known.get(take.takeId) === now) continue;
      known.set(take.takeId, now);
      theDiary().note("sending", { take: take.takeId, state: now, message, parts: state.parts });
    }
  });
}

/** Notes requests that had no answer, or one that is no success, with the id by which the server's log has them. */
export const noted =
  (fetch: Fetch): Fetch =>
  async (url, init) => {
    const request = { method: init.method ?? "GET", path: url };
    try {
      const answer = await fetch(url, init);
      const id = answer.headers.get("request-id");
      if (!answer.ok) theDiary().note("refused", { ...request, status: answer.status, id });
      return answer;
    } catch (error) {
      theDiary().note("no answer", request);
      throw error;
    }
  };

/** All of it as text, with what the browser is. @param failed what it is copied for */
export function detailsOf(failed?: unknown): string {
  const error = failed instanceof Error ? `${failed.name}: ${failed.message}` : failed;
  const browser = { agent: navigator.userAgent, online: navigator.onLine, cores: navigator.hardwareConcurrency };
  const at = new Date().toISOString();
  return JSON.stringify(
    { at, ...(error !== undefined && { failed: error }), browser, done: theDiary().entries },
    null,
    1,
  );
}
