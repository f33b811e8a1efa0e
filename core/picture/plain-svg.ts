import { SaxesParser, type SaxesTagNS } from "saxes";
import { escaped } from "../markup/text";

const SVG = "http://www.w3.org/2000/svg";
const XLINK = "http://www.w3.org/1999/xlink";

/** More of them than an emblem has. */
const MOST_ELEMENTS = 20_000;
const DEEPEST = 100;

/**
 * Shapes, words and what fills them. Left out is whatever draws something again or elsewhere (`use`, `pattern`, `mask`,
 * `filter`, `marker`, `image`), where a few words can ask for hours of work or for a file, and whatever moves or runs.
 */
const ELEMENTS = new Set(
  (
    "svg g path rect circle ellipse line polyline polygon text tspan defs linearGradient radialGradient stop " +
    "clipPath style title desc"
  ).split(" "),
);
/** What stands between their tags is kept. */
const SAYING = new Set(["text", "tspan", "style", "title", "desc"]);

/** Dashes are left out: on a long line very short ones are very many. */
const ATTRIBUTES = new Set(
  (
    "id class d x y x1 y1 x2 y2 cx cy r rx ry fx fy dx dy points width height viewBox preserveAspectRatio transform " +
    "gradientUnits gradientTransform spreadMethod offset stop-color stop-opacity clipPathUnits clip-path clip-rule " +
    "fill fill-opacity fill-rule stroke stroke-width stroke-opacity stroke-linecap stroke-linejoin stroke-miterlimit " +
    "opacity color display visibility font-family font-size font-weight font-style text-anchor dominant-baseline"
  ).split(" "),
);

/**
 * A drawing (SVG 2) with nothing in it but shapes, words and what fills them: without filters, scripts, pictures and
 * references to anything but its own gradients and clips.
 * @throws {RangeError} for what is no drawing, or a very large one
 */
export function plainSvg(text: string): string {
  const out: string[] = [];
  const open: string[] = [];
  /** how deep the reader is in something that is left out */
  let left = 0;
  let elements = 0;
  let failure: Error | null = null;
  const parser = new SaxesParser({ xmlns: true });
  parser.on("error", (error) => {
    failure ??= error;
  });
  parser.on("opentag", (tag) => {
    if (++elements > MOST_ELEMENTS || open.length > DEEPEST) failure ??= new Error("too much");
    if (failure) return;
    if (left > 0 || tag.uri !== SVG || !ELEMENTS.has(tag.local) || (open.length === 0 && tag.local !== "svg")) {
      left++;
      return;
    }
    out.push(`<${tag.local}${open.length === 0 ? ` xmlns="${SVG}"` : ""}${attributesOf(tag, open)}>`);
    open.push(tag.local);
  });
  parser.on("closetag", () => {
    if (left > 0) left--;
    else if (open.length > 0) out.push(`</${open.pop()!}>`);
  });
  const say = (words: string) => {
    const within = open.at(-1);
    if (left > 0 || within === undefined || !SAYING.has(within)) return;
    if (within !== "style" || isPlainStyle(words)) out.push(escaped(words));
  };
  parser.on("text", say);
  parser.on("cdata", say);
  parser.write(text).close();
  if (failure) throw new RangeError(`no drawing: ${(failure as Error).message}`);
  if (out.length === 0) throw new RangeError("no drawing");
  return out.join("");
}

function attributesOf({ local, attributes }: SaxesTagNS, within: readonly string[]): string {
  const kept = Object.values(attributes)
    .sort((a, b) => Number(a.local === "style") - Number(b.local === "style"))
    .flatMap(({ local: name, uri, value }): [string, string][] => {
      if (name === "href" && (uri === "" || uri === XLINK))
        return local.endsWith("Gradient") && /^#[\w-]+$/.test(value) ? [["href", value]] : [];
      if (uri !== "") return [];
      if (name === "style") return declared(value);
      return [[name, value]];
    })
    .filter(([name, value]) => name === "href" || (ATTRIBUTES.has(name) && isPlain(value)))
    // A clip of a clip of many clips is as much work as one likes.
    .filter(([name]) => name !== "clip-path" || (local !== "clipPath" && !within.includes("clipPath")));
  // What a style declares counts more than an attribute.
  return [...new Map(kept)].map(([name, value]) => ` ${name}="${escaped(value)}"`).join("");
}

/** What a `style` declares, as attributes. */
const declared = (style: string): [string, string][] =>
  style.split(";").flatMap((one): [string, string][] => {
    const at = one.indexOf(":");
    return at > 0 ? [[one.slice(0, at).trim(), one.slice(at + 1).trim()]] : [];
  });

/** A value that names nothing but something in the same drawing. */
const isPlain = (value: string): boolean =>
  !/url\s*\(|\\/i.test(value) || /^url\(\s*["']?#[\w-]+["']?\s*\)$/i.test(value);

/** Rules that name and ask for nothing else: no escapes, by which something could be hidden. */
const isPlainStyle = (rules: string): boolean => !/[\\@]|url\s*\(|filter|mask|dash|marker/i.test(rules);
