import { describe, expect, it } from "vitest";
import { readInvitees } from "./invitees";

describe("whom a sender asks", () => {
  it("is read from names, addresses, and both", () => {
    expect(
      readInvitees(
        'Ida Marsh, tom@marsh.example; "Wren Holt" <Wren@Holt.example>\n <k.o@holt.example>\n\n  Bram   Lark ',
      ),
    ).toEqual({
      invitees: [
        { name: "Ida Marsh", email: null },
        { name: "tom", email: "tom@marsh.example" },
        { name: "Wren Holt", email: "wren@holt.example" },
        { name: "k.o", email: "k.o@holt.example" },
        { name: "Bram Lark", email: null },
      ],
      wrong: [],
    });
  });

  // Outside check: as mail programs paste them (common practice, no published source), and RFC 5322, appendix A.
  it.each([
    ["Müller, Anna <a@x.example>; Reed, Paul <p@x.example>", ["Müller, Anna", "Reed, Paul"]],
    ['"Reed, Paul" <p@x.example>, Müller, Anna <a@x.example>', ["Reed, Paul", "Müller, Anna"]],
    ['"Joe Q. Public" <john.q.public@example.com>, Mary Smith <mary@x.test>', ["Joe Q. Public", "Mary Smith"]],
    ["Ida Marsh, Bram Lark, Tom Reed <t@x.example>", ["Ida Marsh", "Bram Lark", "Tom Reed"]],
    ["Pete(A nice ) <pete@silly.test>", ["Pete"]],
  ])("reads %s", (text, names) => {
    const { invitees, wrong } = readInvitees(text);
    expect([invitees.map(({ name }) => name), wrong]).toEqual([names, []]);
  });

  it("counts an address once, and says which pieces are no address", () => {
    expect(readInvitees("a@b.example, A@B.example, a@b, @c.example, <script>, x <y>")).toEqual({
      invitees: [{ name: "a", email: "a@b.example" }],
      wrong: ["a@b", "@c.example", "script, x <y>"],
    });
  });
});
