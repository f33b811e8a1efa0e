import { describe, expect, it } from "vitest";
import { letterHtml, letterText, type Letter } from "./letter";

const letter: Letter = {
  subject: 'Sashes & "laps"',
  title: 'Sashes & "laps"',
  paragraphs: ["Suri Vale has recorded this for you. " + "It says how the laps are cut and why. ".repeat(5).trim()],
  quote: { by: "Suri Vale", words: "<img src=x onerror=alert(1)>\nLook at bay C, and " + "on ".repeat(40).trim() },
  link: { words: "Watch it", url: "https://nod.example/for/" + "k".repeat(90) },
  sign: "123 456",
  foot: ["An answer goes to Suri Vale."],
  stop: { words: "No more mail like this", url: "https://nod.example/no-mail/a?b=1&c=2" },
};

describe("a letter", () => {
  it("as text has short lines, whole addresses, every word, and the sign before its foot", () => {
    const text = letterText(letter);
    const lines = text.split("\n");
    for (const line of lines) if (!line.includes("https://")) expect(line.length, line).toBeLessThanOrEqual(76);
    expect(lines).toContain(letter.link!.url);
    expect(lines).toContain(letter.stop!.url);
    // RFC 3676, 4.3.
    expect(lines.filter((line) => line === "-- ")).toHaveLength(1);
    const words = (some: string) => some.split(/\s+/).filter((word) => word !== ">" && word !== "");
    const said = words(text);
    for (const part of [letter.title, ...letter.paragraphs, letter.quote!.words, letter.sign!, ...letter.foot])
      for (const word of words(part)) expect(said).toContain(word);
  });

  it("quotes line by line what somebody said in words of their own", () => {
    const after = letterText(letter).split("Suri Vale:\n")[1]!.split("\n\n")[0]!;
    for (const line of after.split("\n")) expect(line).toMatch(/^> /);
  });

  it("as HTML holds nothing that was written as anything but text", () => {
    const html = letterHtml(letter);
    expect(html).not.toContain("<img");
    expect(html).toContain("&lt;img src=x onerror=alert(1)&gt;<br>Look");
    expect(html).toContain("Sashes &amp; &quot;laps&quot;");
    expect(html).toContain('href="https://nod.example/no-mail/a?b=1&amp;c=2"');
    expect(html).not.toMatch(/<(script|link|style|img|iframe)\b/);
  });

  it("leaves out what it has not", () => {
    const short = letterText({ subject: "a", title: "A title", paragraphs: [], foot: ["End."] });
    expect(short).toBe("A title\n\n-- \nEnd.\n");
  });
});
