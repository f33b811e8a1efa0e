import { describe, expect, it } from "vitest";
import { plainSvg } from "./plain-svg";

const svg = (body: string, more = "") => `<svg xmlns="http://www.w3.org/2000/svg" ${more}>${body}</svg>`;
const within = (body: string, more = "") => plainSvg(svg(body, more)).replace(/^<svg[^>]*>|<\/svg>$/g, "");

describe("a plain drawing", () => {
  it("has its shapes, words and what fills them", () => {
    const body =
      '<defs><linearGradient id="a"><stop offset="0" stop-color="#fff"></stop></linearGradient>' +
      '<linearGradient id="b" href="#a"></linearGradient></defs>' +
      '<g transform="scale(2)"><path d="M0 0H9" fill="url(#b)"></path><text x="1">A &#38; B</text></g>';
    expect(within(body)).toBe(body);
    expect(plainSvg(svg("", 'viewBox="0 0 9 9"'))).toBe(
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"></svg>',
    );
    // By another prefix, as drawing programs write it.
    expect(plainSvg('<s:svg xmlns:s="http://www.w3.org/2000/svg"><s:rect width="1"/></s:svg>')).toBe(
      '<svg xmlns="http://www.w3.org/2000/svg"><rect width="1"></rect></svg>',
    );
  });

  it("takes declarations of a style as attributes, which count more", () => {
    expect(within('<rect fill="red" style="fill: blue; filter: blur(9px); -x-y: 1"/>')).toBe(
      '<rect fill="blue"></rect>',
    );
    expect(within("<style>.a{fill:red}</style>")).toBe("<style>.a{fill:red}</style>");
    expect(within("<style>.a{\\66ilter:blur(9px)}</style>")).toBe("<style></style>");
    expect(within("<style>@import 'x'</style><style>.a{fill:url(x.svg#a)}</style>")).toBe(
      "<style></style><style></style>",
    );
  });

  it.each([
    "<script>1</script>",
    '<image href="data:image/png;base64,AAAA"/>',
    "<foreignObject><rect/></foreignObject>",
    '<use href="#a"/>',
    '<filter id="f"><feFlood/></filter>',
    '<pattern id="p"><rect/></pattern>',
    '<mask id="m"><rect/></mask>',
    '<x:rect xmlns:x="urn:else"/>',
    "<!-- said --><?run this?>",
    "<a><rect/></a>",
  ])("has nothing of %s", (body) => {
    expect(within(body)).toBe("");
  });

  it.each([
    ["onload", "x()"],
    ["filter", "url(#f)"],
    ["stroke-dasharray", "0.001"],
    ["fill", "url(https://a.example/x.svg#a)"],
    ["fill", "u\\72l(x)"],
    ["href", "#a"],
    ["xml:base", "file:///"],
  ])("has no attribute %s of %s", (name, value) => {
    expect(within(`<rect ${name}="${value}"/>`)).toBe("<rect></rect>");
  });

  it("clips, but not what clips", () => {
    expect(
      within('<clipPath id="c" clip-path="url(#d)"><rect clip-path="url(#d)"/></clipPath><rect clip-path="url(#c)"/>'),
    ).toBe('<clipPath id="c"><rect></rect></clipPath><rect clip-path="url(#c)"></rect>');
  });

  it.each([
    "",
    "words",
    "<html/>",
    "<svg/>",
    svg("<g>"),
    svg("&unknown;"),
    svg("<g>".repeat(200) + "</g>".repeat(200)),
    svg("<g/>".repeat(20_001)),
  ])("is refused where it is none, or very large (case %#)", (text) => {
    expect(() => plainSvg(text)).toThrow(RangeError);
  });
});
