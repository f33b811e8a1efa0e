import { describe, expect, it } from "vitest";
import { planBringIn, type StandingComment } from "./bring-in";
import type { ReadComment } from "./web-annotation";

const read = (id: string, body: string, more: Partial<ReadComment> = {}): ReadComment => ({
  id,
  replyTo: null,
  author: "Ida",
  body,
  at: 5,
  until: null,
  ...more,
});
const ids = () => {
  let n = 0;
  return () => `new${++n}`;
};
const plan = (file: ReadComment[], standing: StandingComment[] = []) => planBringIn(file, standing, ids());

describe("comments from a file", () => {
  const thread = [
    read("a", "Why here?"),
    read("b", "It is rotten", { replyTo: "a", author: "Tom" }),
    read("c", "It is rotten", { replyTo: "a", author: "Wren" }),
    read("d", "I see", { replyTo: "b" }),
  ];

  it("keeps equal words of two people as two, and a reply to a reply in its thread", () => {
    const { added, known, lost } = plan(thread);
    expect(added.map((c) => [c.newId, c.author, c.under])).toEqual([
      ["new1", "Ida", null],
      ["new2", "Tom", "new1"],
      ["new3", "Wren", "new1"],
      ["new4", "Ida", "new1"],
    ]);
    expect([known, lost]).toEqual([0, 0]);
  });

  it("does not depend on the order of the file", () => {
    const shape = (file: ReadComment[]) => {
      const { added } = plan(file);
      const words = new Map(added.map((c) => [c.newId, c.body]));
      return added.map((c) => `${c.author}: ${c.body} < ${c.under && words.get(c.under)}`).sort();
    };
    const inOrder = shape(thread);
    for (const order of [
      [3, 2, 1, 0],
      [1, 3, 0, 2],
      [2, 0, 3, 1],
    ])
      expect(shape(order.map((i) => thread[i]!))).toEqual(inOrder);
  });

  it("adds nothing the second time", () => {
    const first = plan(thread).added;
    const standing = first.map((c) => ({ id: c.newId, replyTo: c.under, author: c.author, body: c.body, at: c.at }));
    expect(plan(thread, standing)).toEqual({ added: [], known: 4, lost: 0 });
  });

  it("puts replies to comments that stand here already under them, not beside them", () => {
    const here = "0d5b5bd8-0000-4000-8000-000000000001";
    const standing = [{ id: here, replyTo: null, author: "Ida", body: "Changed since", at: 70 }];
    const { added, known } = plan(
      [
        read(`urn:uuid:${here}`, "As it was then"),
        read("x", "A reply", { replyTo: `urn:uuid:${here}`, author: "Tom" }),
      ],
      standing,
    );
    expect(known).toBe(1);
    expect(added).toMatchObject([{ body: "A reply", under: here, at: 70 }]);
    expect(plan([read("y", "Alone", { replyTo: `urn:uuid:${here}` })], standing).added).toMatchObject([
      { under: here },
    ]);
  });

  it("leaves out replies whose comment is nowhere, and circles", () => {
    expect(plan([read("a", "x", { replyTo: "gone" })])).toMatchObject({ added: [], lost: 1 });
    expect(plan([read("a", "x", { replyTo: "b" }), read("b", "y", { replyTo: "a" })])).toMatchObject({ lost: 2 });
  });
});
