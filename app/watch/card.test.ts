import { describe, expect, it } from "vitest";
import { cardOf } from "./card";

const about = {
  title: "Pane schedule",
  sender: "Suri Vale",
  description: "",
  hasPoster: true,
  link: "https://nod.example/w/abc",
  isPublic: true,
  playable: { durationUs: 94_000_000 },
};
const read = (card: ReturnType<typeof cardOf>) =>
  Object.fromEntries(
    card.map((one) => {
      const { property, name, content } = one as { property?: string; name?: string; content: string };
      return [property ?? name!, content];
    }),
  );

describe("the card of a link", () => {
  it("has what is asked of every object, and of a video (ogp.me, from memory)", () => {
    const card = read(cardOf(about));
    expect(card).toMatchObject({
      "og:title": "Pane schedule",
      "og:type": "video.other",
      "og:image": "https://nod.example/w/abc/poster.jpg",
      "og:url": "https://nod.example/w/abc",
      "video:duration": "94",
      "twitter:card": "summary_large_image",
    });
    expect(card["og:description"]).toMatch(/^Recorded by Suri Vale, /);
  });

  it("says what the sender has said of it, in so many words as are shown", () => {
    const { "og:description": said } = read(
      cardOf({ ...about, description: "Which\n\npane  goes where. ".repeat(30) }),
    );
    expect(said).toMatch(/^Which pane goes where\. /);
    expect(said!.length).toBeLessThanOrEqual(200);
  });

  it("is nothing but our name for what is not for anybody, and for what is not there", () => {
    const nothing = { "og:site_name": "Clear Nod", "og:title": "Clear Nod" };
    expect(read(cardOf({ ...about, isPublic: false }))).toEqual(nothing);
    expect(read(cardOf(null))).toEqual(nothing);
  });

  it("names no picture and no length that are not there yet", () => {
    const card = read(cardOf({ ...about, hasPoster: false, playable: null }));
    expect(Object.keys(card).filter((name) => /image|duration/.test(name))).toEqual([]);
    expect(card["twitter:card"]).toBe("summary");
  });
});
