import { describe, expect, it } from "vitest";
import { parseFragment, writeFragment } from "./fragment";
import { groupOf, isOverdue } from "./groups";
import { askProblem, isCurrent, NOTHING_ASKED, refusalOf, sayAnswer, type Answer, type Ask } from "./kinds";
import { owedOf } from "./owed";
import { asksSomething, piecesOf, tidyComment } from "./text";
import { AnnotationError, readAnnotations, toAnnotationPage } from "./web-annotation";

const S = 1_000_000;

// Outside check: W3C Media Fragments URI 1.0, the examples of 4.2.1 and the table of 5.1 and C.1 (from memory), worked
// by hand.
describe("media fragments", () => {
  it.each([
    ["#t=10,20", 10, 20],
    ["t=12.5,20", 12.5, 20],
    ["t=,20", 0, 20],
    ["t=10", 10, null],
    ["t=npt:10,20", 10, 20],
    ["t=120,0:02:01.5", 120, 121.5],
    ["t=1:02:03,1:02:04", 3723, 3724],
    ["t=02:03", 123, null],
    ["xywh=1,2,3,4&t=5", 5, null],
    ["t=3&t=7", 7, null],
    ["%74=%31%30", 10, null],
    ["t=3&t=junk", 3, null],
  ])("%s", (text, at, until) =>
    expect(parseFragment(text)).toEqual({ at: at * S, until: until === null ? null : until * S }),
  );

  it.each(["", "t=", "t=,", "t=20,10", "t=10,10", "t=-1", "t=1:99", "t=a", "T=5", "t=10,", "t=%zz", "track=x"])(
    "not %j",
    (text) => expect(parseFragment(text)).toBeNull(),
  );

  it("come back as they were written", () => {
    for (const anchor of [
      { at: 0, until: null },
      { at: 12_345_678, until: 20_000_001 },
    ])
      expect(parseFragment(writeFragment(anchor))).toEqual(anchor);
  });
});

describe("the text of a comment", () => {
  it("knows links and simple emphasis", () => {
    expect(piecesOf("See https://panes.test/a?b=1, it is *really* _thin_.")).toEqual([
      { kind: "text", text: "See " },
      { kind: "link", text: "https://panes.test/a?b=1", href: "https://panes.test/a?b=1" },
      { kind: "text", text: ", it is " },
      { kind: "strong", text: "really" },
      { kind: "text", text: " " },
      { kind: "stress", text: "thin" },
      { kind: "text", text: "." },
    ]);
    expect(piecesOf("2 * 3 * 4 and snake_case_name")).toEqual([
      { kind: "text", text: "2 * 3 * 4 and snake_case_name" },
    ]);
  });

  it.each([
    "javascript:alert(1)",
    "<img src=x onerror=alert(1)>",
    "data:text/html,hi",
    "[a](javascript:alert(1))",
    "//evil.test",
    "ftp://a.test",
  ])("makes no link of %s", (text) => expect(piecesOf(text).filter((p) => p.kind === "link")).toEqual([]));

  it.each([
    ["Which putty?", true],
    ["Is it (linseed?) or not.", true],
    ["これは何ですか？", true],
    ["See https://panes.test/?q=1", false],
    ["Fine.", false],
  ])("%s asks something: %s", (text, does) => expect(asksSomething(text)).toBe(does));

  it("loses what could disguise it, and nothing else", () => {
    expect(tidyComment("  a\u202eb\u0000\r\nc  ")).toBe("ab\nc");
    expect(tidyComment(" \n\u2066 ")).toBe("");
  });
});

describe("an ask", () => {
  const nod: Ask = { ...NOTHING_ASKED, kind: "nod", version: 7 };
  const choice: Ask = { ...NOTHING_ASKED, kind: "choice", choices: ["Putty", "Bead"], version: 7 };
  const given = (answer: Answer, version = 7) => ({ answer, version });
  it("takes what it asks for, and 'not clear yet' always", () => {
    expect(refusalOf(nod, given({ kind: "nod" }))).toBeNull();
    expect(refusalOf(choice, given({ kind: "choice", choice: 1 }))).toBeNull();
    expect(refusalOf(choice, given({ kind: "not-clear", at: 0, words: "" }))).toBeNull();
    expect(refusalOf(choice, given({ kind: "choice", choice: 2 }))).toMatch(/Choose/);
    expect(refusalOf(choice, given({ kind: "nod" }))).toMatch(/not what/);
    expect(refusalOf({ ...nod, closed: true }, given({ kind: "nod" }))).toMatch(/closed/);
    expect(refusalOf(NOTHING_ASKED, given({ kind: "nod" }))).toMatch(/Nothing/);
    // Choice 0 of another question is no choice of this one.
    expect(refusalOf(choice, given({ kind: "choice", choice: 0 }, 6))).toMatch(/something else/);
    expect([isCurrent(choice, given({ kind: "nod" }, 6)), isCurrent(choice, given({ kind: "nod" }))]).toEqual([
      false,
      true,
    ]);
    expect(isCurrent(NOTHING_ASKED, given({ kind: "nod" }, 0))).toBe(false);
    expect(sayAnswer(choice, { kind: "choice", choice: 0 })).toBe("Putty");
  });

  it.each([
    [{ kind: "nod", question: "", choices: [] }, null],
    [{ kind: "words", question: " ", choices: [] }, /Write/],
    [{ kind: "choice", question: "Which?", choices: ["Putty", " ", "Bead"] }, null],
    [{ kind: "choice", question: "Which?", choices: ["Putty", ""] }, /2 to 5/],
    [{ kind: "choice", question: "Which?", choices: ["a", "b", "c", "d", "e", "f"] }, /2 to 5/],
    [{ kind: "choice", question: "Which?", choices: ["Putty", "Putty "] }, /same/],
    [{ kind: "choice", question: "", choices: ["Putty", "Bead"] }, /Write/],
  ] as const)("%j can be asked, or says what is missing", (ask, problem) => {
    const said = askProblem({ ...ask, choices: [...ask.choices] });
    if (problem) expect(said).toMatch(problem);
    else expect(said).toBeNull();
  });

  it("puts everybody in one group, and knows who is late", () => {
    expect(groupOf({ opened: true, watched: true, answered: true })).toBe("answered");
    expect(groupOf({ opened: true, watched: true, answered: false })).toBe("watched");
    expect(groupOf({ opened: true, watched: false, answered: false })).toBe("opened");
    expect(groupOf({ opened: false, watched: false, answered: false })).toBe("not-opened");
    expect([
      isOverdue("opened", { dueEnds: 1000, closed: false }, 1000),
      isOverdue("opened", { dueEnds: 1000, closed: false }, 999),
      isOverdue("answered", { dueEnds: 1000, closed: false }, 2000),
      isOverdue("opened", { dueEnds: null, closed: false }, 2000),
      isOverdue("opened", { dueEnds: 1000, closed: true }, 2000),
    ]).toEqual([true, false, false, false, false]);
  });
});

describe("what is still owed", () => {
  const row = (more: object, ask: object | null = null) => ({
    ...{ state: { kind: "ready" }, audience: "anyone" as const, mine: true },
    ...more,
    back: { ask: ask && { closed: false, asked: 2, answered: 0, notClear: 0, ...ask } },
  });
  it.each([
    ["arriving", row({ state: { kind: "uploading" } })],
    ["others", row({ mine: false })],
    ["draft", row({ audience: "owner" }, {})],
    ["nothing", row({})],
    ["waiting", row({}, { answered: 1 })],
    ["waiting", row({}, { asked: 0, answered: 3 })],
    ["waiting", row({}, { answered: 2, notClear: 1 })],
    ["answered", row({}, { answered: 2 })],
    ["answered", row({}, { closed: true })],
  ] as const)("%s", (owed, facts) => expect(owedOf(facts)).toBe(owed));
});

// Outside check: W3C Web Annotation Data Model, the shapes of its examples 1, 5, 12 and 25 (from memory).
describe("web annotations", () => {
  const comment = {
    id: "0d5b5bd8-0000-4000-8000-000000000001",
    replyTo: null,
    author: "Ida",
    body: "Why here?",
    at: 12_500_000,
    until: 20 * S,
    createdAt: "2026-11-24T09:00:00.000Z",
    editedAt: null,
  };
  const reply = {
    ...comment,
    id: "0d5b5bd8-0000-4000-8000-000000000002",
    replyTo: comment.id,
    until: null,
    body: "The bar is rotten",
  };

  it("carry comments and replies out and in again", () => {
    const page = toAnnotationPage("https://nod.test/w/abc", [comment, reply]);
    expect(page.items[0]).toMatchObject({
      "@context": "http://www.w3.org/ns/anno.jsonld",
      type: "Annotation",
      body: { type: "TextualBody", value: "Why here?" },
      target: {
        source: "https://nod.test/w/abc",
        selector: { type: "FragmentSelector", conformsTo: "http://www.w3.org/TR/media-frags/", value: "t=12.5,20" },
      },
    });
    const { comments, skipped } = readAnnotations(JSON.parse(JSON.stringify(page)));
    expect(skipped).toBe(0);
    expect(comments.map((c) => [c.body, c.at, c.until, c.author])).toEqual([
      ["Why here?", 12_500_000, 20 * S, "Ida"],
      ["The bar is rotten", 0, null, "Ida"],
    ]);
    expect(comments[1]!.replyTo).toBe(comments[0]!.id);
  });

  it("are read in the other shapes of the model, and what is no comment is skipped", () => {
    const one = { type: "Annotation", id: "http://a.test/1", bodyValue: "Here", target: "http://a.test/v.mp4#t=3" };
    expect(readAnnotations(one).comments).toMatchObject([{ body: "Here", at: 3 * S }]);
    expect(
      readAnnotations({
        type: "AnnotationCollection",
        first: { type: "AnnotationPage", items: [one, { type: "Annotation", target: "x" }, 5, null] },
      }),
    ).toMatchObject({ comments: [{}], skipped: 3 });
    expect(() => readAnnotations({ hello: 1 })).toThrow(AnnotationError);
    expect(() => readAnnotations("x")).toThrow(AnnotationError);
    // A collection names its first page, and that names none.
    const deep = { first: { first: { items: [] } } };
    expect(() => readAnnotations(deep)).toThrow(AnnotationError);
    expect(readAnnotations(deep.first).skipped).toBe(0);
  });
});
