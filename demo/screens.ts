/** What the screen of a scripted recording shows: a drawn sheet, and how far it has been explained. */
export interface Picture {
  kind: keyof typeof SHEETS;
  step: number;
}

/** A drawn screen, and where the pointer rests on it. */
export interface Drawn {
  svg: string;
  focus: { x: number; y: number };
}

export const SCREEN = { width: 1280, height: 720 };
const INK = "#16302B";
const SOFT = "#6B7F78";
const LEAF = "#2F7D5B";
const CLAY = "#B4502D";
const GLASS = "#DCE9E4";
const GOLD = "#F0D9A0";
const FONT = "DejaVu Sans, sans-serif";

const text = (x: number, y: number, words: string, more = "") =>
  `<text x="${x}" y="${y}" font-family="${FONT}" ${more.includes("font-size") ? "" : 'font-size="20"'} fill="${INK}" ${more}>${words}</text>`;
const rect = (x: number, y: number, w: number, h: number, fill = "none", more = "") =>
  `<rect x="${x}" y="${y}" width="${w}" height="${h}" fill="${fill}" ${more}/>`;
const line = (x1: number, y1: number, x2: number, y2: number, more = "") =>
  `<line x1="${x1}" y1="${y1}" x2="${x2}" y2="${y2}" stroke="${INK}" ${more.includes("stroke-width") ? "" : 'stroke-width="2"'} ${more}/>`;
const ring = (x: number, y: number, r: number) =>
  `<circle cx="${x}" cy="${y}" r="${r}" fill="none" stroke="${CLAY}" stroke-width="5"/>`;

/** A window of the practice's drawing program: our own, and only as much of it as a frame. */
function sheet(title: string, body: string, focus: { x: number; y: number }): Drawn {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${SCREEN.width}" height="${SCREEN.height}">
    ${rect(0, 0, 1280, 720, "#EFEBDF")}${rect(0, 0, 1280, 44, INK)}${text(24, 30, title, 'style="fill:#F7F5EF"')}${text(1010, 30, "Fenn &amp; Lark, north range", 'style="fill:#B9C9C2" font-size="16"')}
    ${rect(40, 72, 1200, 612, "#FFFFFF", `stroke="${SOFT}"`)}${body}</svg>`;
  return { svg, focus };
}

/**
 * The roof from above: bays with letters, courses from the gutter. Steps: all, one pane, hatched and old panes,
 * heights.
 */
function plan(step: number): Drawn {
  const [x0, y0, w, h] = [150, 130, 58, 62];
  let body = "";
  for (let course = 0; course < 8; course++) {
    for (let pane = 0; pane < 16; pane++) {
      const [x, y] = [x0 + pane * w, y0 + (7 - course) * h];
      const bayC = pane >= 8 && pane < 12;
      const old = (pane * 7 + course * 3) % 11 === 0;
      const fill = step === 1 && pane === 5 && course === 3 ? GOLD : GLASS;
      body += rect(x, y, w, h, fill, `stroke="${SOFT}"`);
      if (step >= 2 && bayC && course >= 2 && course < 5)
        body += `<path d="M${x} ${y + h}L${x + w} ${y}M${x} ${y + h / 2}L${x + w / 2} ${y}M${x + w / 2} ${y + h}L${x + w} ${y + h / 2}" stroke="${CLAY}" stroke-width="2"/>`;
      if (step >= 2 && old) body += `<circle cx="${x + w / 2}" cy="${y + h / 2}" r="6" fill="${LEAF}"/>`;
    }
  }
  for (let bay = 0; bay < 4; bay++)
    body +=
      text(x0 + bay * 4 * w + 2 * w - 8, y0 + 8 * h + 34, "ABCD"[bay]!, 'font-weight="bold"') +
      line(x0 + bay * 4 * w, y0 - 8, x0 + bay * 4 * w, y0 + 8 * h + 8, 'stroke-width="4"');
  body +=
    line(x0, y0, x0 + 16 * w, y0, 'stroke-width="9"') + text(1092, y0 + 6, "ridge") + text(1092, y0 + 8 * h, "gutter");
  for (let c = 1; c <= 8; c++) body += text(112, y0 + (8 - c) * h + 40, String(c), `style="fill:${SOFT}"`);
  if (step === 1)
    body +=
      ring(x0 + 5.5 * w, y0 + 4.5 * h, 52) +
      text(x0 + 6.6 * w, y0 + 4.1 * h, "B 4 2", 'font-weight="bold" font-size="26"');
  if (step === 3)
    for (const [i, height] of ["2.40", "3.15", "3.90"].entries())
      body +=
        rect(1096, y0 + 420 - i * 180, 86, 40, "#FFF", `stroke="${INK}" stroke-width="2"`) +
        text(1108, y0 + 447 - i * 180, height);
  const focus = [
    { x: 620, y: 400 },
    { x: x0 + 6 * w, y: y0 + 5 * h },
    { x: x0 + 10 * w, y: y0 + 4.6 * h },
    { x: 1120, y: y0 + 470 },
  ][step]!;
  return sheet("Plan of the roof, glazing", body, focus);
}

const ROWS = [
  ["B 4 1", "452", "600", "12", "A"],
  ["B 4 2", "452", "600", "12", "B"],
  ["B 4 3", "448", "600", "12", "A"],
  ["B 4 4", "451", "598", "12", "A"],
  ["B 5 1", "452", "604", "13", "A"],
  ["B 5 2", "450", "604", "13", "B"],
  ["C 3 1", "452", "596", "11", "C"],
  ["C 3 2", "452", "596", "11", "C"],
  ["C 3 3", "449", "596", "11", "C"],
  ["C 4 1", "452", "600", "12", "C"],
];

/** The pane schedule. Steps: all, the number, the sizes, the states. */
function schedule(step: number): Drawn {
  const columns = [70, 330, 520, 710, 900];
  const marked = [[], [0], [1, 2, 3], [4]][step]!;
  let body = "";
  for (const c of marked) body += rect(columns[c]! - 14, 86, 180, 584, "#F6EBD2");
  for (const [i, name] of ["Pane", "Width", "Height", "Lap", "State"].entries())
    body += text(columns[i]!, 122, name, 'font-weight="bold" font-size="22"');
  body += line(60, 140, 1220, 140);
  for (const [r, row] of ROWS.entries()) {
    const y = 182 + r * 48;
    if (step === 1 && r === 1) body += rect(56, y - 32, 1168, 44, GOLD);
    for (const [i, value] of row.entries())
      body += text(
        columns[i]!,
        y,
        value,
        `font-size="23" ${i === 4 && value === "C" ? `style="fill:${CLAY}" font-weight="bold"` : ""}`,
      );
    body += line(60, y + 14, 1220, y + 14, 'stroke-width="1" opacity=".25"');
  }
  const focus = [
    { x: 300, y: 250 },
    { x: 170, y: 240 },
    { x: 640, y: 240 },
    { x: 930, y: 470 },
  ][step]!;
  return sheet("Pane schedule, rows 41 to 50 of 96", body, focus);
}

/**
 * How panes lie over each other, with what the lap is in each course. Steps: two panes, nine to fourteen, the sum, the
 * mistake.
 */
function lap(step: number): Drawn {
  let body = "";
  const short = step === 3 ? 38 : 0;
  for (let i = 0; i < 4; i++) {
    const [x, y] = [180 + i * 170, 560 - i * 105];
    const cut = i === 2 ? short : 0;
    body += `<g transform="rotate(-32 ${x} ${y})">${rect(x, y, 235 - cut, 13, i === 2 && step >= 2 ? GOLD : GLASS, `stroke="${INK}" stroke-width="2"`)}</g>`;
    if (i > 0) body += `<path d="M${x - 4} ${y + 26}l34 -21" stroke="${CLAY}" stroke-width="5" fill="none"/>`;
  }
  if (step === 0) body += text(360, 610, "the lap", `font-size="24" style="fill:${CLAY}"`);
  if (step >= 1)
    for (const [i, mm] of ["9", "10", "11", "12", "13", "14"].entries())
      body +=
        rect(820, 150 + (5 - i) * 62, 330, 52, i === 3 && step >= 2 ? GOLD : "#F4F1E8", `stroke="${SOFT}"`) +
        text(840, 184 + (5 - i) * 62, `course ${i + 1}`) +
        text(1060, 184 + (5 - i) * 62, `${mm} mm`, 'font-weight="bold"');
  if (step >= 2)
    body += text(
      470,
      640,
      "600 + 12 − 3 = 609 mm",
      `font-size="38" font-weight="bold" ${step === 3 ? 'opacity=".3"' : ""}`,
    );
  if (step === 3)
    body +=
      text(470, 640, "600 − 3 = 597 mm", `font-size="38" font-weight="bold" style="fill:${CLAY}" dy="-52"`) +
      ring(655, 350, 46);
  const focus = [
    { x: 380, y: 470 },
    { x: 1100, y: 300 },
    { x: 700, y: 620 },
    { x: 660, y: 370 },
  ][step]!;
  return sheet("Lap of the panes, section along the roof", body, focus);
}

/** The vent on the ridge. Steps: the gable, leaf and rod, closing, its own weight, the third bar. */
function section(step: number): Drawn {
  const angle = step === 1 ? -34 : step === 4 ? -9 : step === 0 ? -34 : 0;
  let body = `<path d="M160 640L640 240L1120 640" fill="none" stroke="${INK}" stroke-width="8"/>${rect(610, 220, 60, 46, INK)}`;
  for (let i = 1; i <= 5; i++)
    body +=
      `<path d="M${640 + i * 80} ${240 + i * 66.7}l0 26" stroke="${INK}" stroke-width="6"/>` +
      text(632 + i * 80, 236 + i * 66.7, String(i), `style="fill:${SOFT}"`);
  body += `<g transform="rotate(${angle} 664 258)"><path d="M664 246L850 401" stroke="${LEAF}" stroke-width="14"/></g>`;
  body += `<path d="M560 640L560 430L700 330" fill="none" stroke="${step >= 1 ? CLAY : SOFT}" stroke-width="6"/><circle cx="560" cy="640" r="34" fill="none" stroke="${INK}" stroke-width="6"/>`;
  if (step === 0) body += text(900, 200, "north range, east gable", `style="fill:${SOFT}"`);
  if (step === 1) body += text(860, 210, "leaf", 'font-size="26"') + text(440, 400, "rod", 'font-size="26"');
  if (step === 2)
    body +=
      `<path d="M500 560v70l-14 -18m14 18l14 -18" stroke="${CLAY}" stroke-width="5" fill="none"/>` +
      text(600, 660, "turn until it settles", 'font-size="26"');
  if (step === 3)
    body +=
      text(720, 200, "by its own weight", `font-size="30" font-weight="bold"`) +
      `<path d="M800 216v90l-14 -18m14 18l14 -18" stroke="${CLAY}" stroke-width="5" fill="none"/>`;
  if (step === 4) body += ring(880, 440, 60) + text(960, 400, "look here first", `font-size="26" style="fill:${CLAY}"`);
  const focus = [
    { x: 700, y: 320 },
    { x: 820, y: 260 },
    { x: 570, y: 600 },
    { x: 830, y: 380 },
    { x: 900, y: 460 },
  ][step]!;
  return sheet("Ridge vent, section", body, focus);
}

/** The moisture of the sill. Steps: the axes, the west end, the east end, the line at twenty. */
function readings(step: number): Drawn {
  const [x0, y0] = [120, 620];
  const at = (day: number, percent: number) => `${x0 + day * 52},${y0 - (percent - 8) * 25}`;
  const west = Array.from({ length: 21 }, (_, d) => at(d, 13 + Math.sin(d * 1.3) * 0.9));
  const east = Array.from({ length: 21 }, (_, d) =>
    at(d, d < 8 ? 18 + Math.sin(d) * 0.7 : 26 - 8 * Math.exp(-(d - 7) / 1.4) + Math.sin(d) * 0.5),
  );
  let body = line(x0, y0, x0 + 1060, y0) + line(x0, y0, x0, 110);
  for (const p of [12, 15, 20, 26])
    body +=
      text(66, y0 - (p - 8) * 25 + 7, `${p} %`) +
      line(x0, y0 - (p - 8) * 25, x0 + 1060, y0 - (p - 8) * 25, 'stroke-width="1" opacity=".2"');
  for (let d = 0; d < 21; d += 4) body += text(x0 + d * 52 - 8, y0 + 34, String(d + 2));
  body += rect(x0, y0 - 7 * 25, 1060, 75, GLASS, 'opacity=".7"');
  body +=
    `<polyline points="${west.join(" ")}" fill="none" stroke="${LEAF}" stroke-width="${step === 1 ? 7 : 4}"/>` +
    text(1090, y0 - 112, "west", `style="fill:${LEAF}"`);
  if (step !== 1)
    body +=
      `<polyline points="${east.join(" ")}" fill="none" stroke="${CLAY}" stroke-width="${step === 2 ? 7 : 4}" stroke-dasharray="14 5"/>` +
      text(1090, y0 - 470, "east", `style="fill:${CLAY}"`);
  if (step === 3)
    body +=
      line(x0, y0 - 300, x0 + 1060, y0 - 300, `stroke-width="6" style="stroke:${INK}"`) +
      text(720, y0 - 314, "above this, rot goes on", 'font-weight="bold"');
  const focus = [
    { x: 300, y: 300 },
    { x: 500, y: 500 },
    { x: 560, y: 330 },
    { x: 800, y: 330 },
  ][step]!;
  return sheet("East sill, readings every morning", body, focus);
}

/** The house from outside, drawn where a photograph would be. Steps: gable, sill, today, proposed, the old glass. */
function photo(step: number): Drawn {
  const sag = step === 2 ? 26 : 0;
  const lifted = step >= 3;
  let body = `<defs><linearGradient id="sky" x2="0" y2="1"><stop offset="0" stop-color="#BFD6DE"/><stop offset="1" stop-color="#F3EAD6"/></linearGradient></defs>${rect(40, 72, 1200, 612, "url(#sky)")}`;
  body += `<path d="M40 560Q400 520 700 552T1240 540V684H40Z" fill="#9DB58B"/>`;
  body += `<path d="M240 330Q640 ${330 + 2 * sag} 1040 330L1120 470H160Z" fill="#E4EEE9" stroke="${INK}" stroke-width="4"/>${rect(160, 470, 960, 90, "#D6E4DE", `stroke="${INK}" stroke-width="4"`)}${rect(150, 552, 980, 44, "#B9A88C")}`;
  for (let i = 1; i < 16; i++)
    body +=
      line(240 + i * 50, 330 + (sag * (8 - Math.abs(8 - i))) / 8, 160 + i * 60, 470, 'stroke-width="2"') +
      line(160 + i * 60, 470, 160 + i * 60, 556, 'stroke-width="2"');
  if (lifted) for (let i = 0; i < 6; i++) body += `<path d="M${240 + i * 160} 330v-34l8 -16l8 16v34" fill="${INK}"/>`;
  else
    for (let i = 0; i < 9; i++)
      body += `<circle cx="${180 + i * 118}" cy="${566 + (i % 3) * 9}" r="${26 + (i % 4) * 5}" fill="#5F7D52"/>`;
  if (step === 4)
    for (let i = 0; i < 15; i++)
      body += `<path d="M${190 + i * 60} 480q22 ${20 + (i % 3) * 9} 40 4" stroke="#FFF" stroke-width="5" fill="none" opacity=".8"/>`;
  if (step === 1) body += ring(1060, 560, 60);
  if (step === 2) body += line(240, 330, 1040, 330, `stroke-dasharray="10 8" style="stroke:${CLAY}"`);
  const focus = [
    { x: 640, y: 420 },
    { x: 1040, y: 590 },
    { x: 640, y: 370 },
    { x: 560, y: 310 },
    { x: 420, y: 510 },
  ][step]!;
  return sheet("From the lawn, drawing", body, focus);
}

/** A written page. Steps: one more paragraph each. */
function page(step: number): Drawn {
  const paragraphs = [
    ["How we came to this", "Survey in the spring, two bars taken down, the drawings compared."],
    ["What was measured", "1,536 panes, 32 bars, 14 trusses. Every pane has its number."],
    ["What the drawings say", "The pitch was changed at least once. The older one is steeper."],
    ["What is on the sheet and what is on site", "Where they differ, the site is right. Write it down, with the date."],
  ];
  const body = paragraphs
    .slice(0, step + 1)
    .map(
      ([head, words], i) =>
        (i === step ? rect(84, 116 + i * 132, 1110, 112, "#F6EBD2") : "") +
        text(110, 160 + i * 132, head!, 'font-size="28" font-weight="bold"') +
        text(110, 204 + i * 132, words!, 'font-size="22"'),
    )
    .join("");
  return sheet("Method statement", body, { x: 640, y: 190 + step * 132 });
}

/** A glazing bar and its new foot. Steps: the bar, the slope, the cut, glue and pegs, planed and oiled. */
function bar(step: number): Drawn {
  const gap = step === 2 ? 40 : 0;
  const rotten = step <= 1 ? "#8C7A66" : "#E2C48F";
  let body = `<path d="M120 300H700L860 390H120Z" fill="#C9A063" stroke="${INK}" stroke-width="3"/><path d="M${700 + gap} 300H1180V390H${860 + gap}Z" fill="${rotten}" stroke="${INK}" stroke-width="3"/>`;
  body += line(120, 330, 690, 330, 'stroke-width="1"') + line(760 + gap, 330, 1180, 330, 'stroke-width="1"');
  if (step <= 1)
    for (let i = 0; i < 9; i++)
      body += `<circle cx="${880 + i * 33}" cy="${322 + ((i * 17) % 50)}" r="${5 + (i % 3) * 3}" fill="#5B4C3E"/>`;
  if (step === 1)
    body +=
      `<path d="M700 300L860 390" stroke="${CLAY}" stroke-width="7"/>` +
      text(620, 250, "1 in 8, so 320 long on 40", `font-size="28" style="fill:${CLAY}"`) +
      line(700, 420, 860, 420) +
      text(744, 452, "320");
  if (step === 2)
    body +=
      rect(560, 200, 60, 290, "none", `stroke="${INK}" stroke-width="8"`) +
      text(640, 240, "one clamp, moulding up", 'font-size="26"');
  if (step >= 3)
    body += `<circle cx="745" cy="345" r="12" fill="${INK}"/><circle cx="815" cy="345" r="12" fill="${INK}"/>`;
  if (step === 3) body += text(620, 250, "two pegs, and a night", 'font-size="28"');
  if (step === 4)
    body +=
      `<path d="M160 410Q640 440 1150 410" stroke="${GOLD}" stroke-width="14" fill="none"/>` +
      text(500, 500, "flush, then oil", 'font-size="28"');
  const focus = [
    { x: 860, y: 350 },
    { x: 780, y: 360 },
    { x: 600, y: 320 },
    { x: 780, y: 360 },
    { x: 640, y: 430 },
  ][step]!;
  return sheet("Glazing bar, scarf joint", body, focus);
}

/** Three samples of paint. Steps: all, then each. */
function colours(step: number): Drawn {
  const samples = [
    ["Stone", "#B8AE98"],
    ["Dark green", "#2C463A"],
    ["White", "#F4F2EA"],
  ] as const;
  const body = samples
    .map(([name, fill], i) => {
      const on = step === 0 || step === i + 1;
      const x = 110 + i * 370;
      return `<g opacity="${on ? 1 : 0.35}"><path d="M${x} 560V290a160 160 0 0 1 320 0V560Z" fill="${fill}" stroke="${INK}" stroke-width="${step === i + 1 ? 7 : 2}"/>${text(x + 100, 620, name, 'font-size="28"')}</g>`;
    })
    .join("");
  return sheet("Ironwork, layers of paint", body, { x: step === 0 ? 640 : 270 + (step - 1) * 370, y: 430 });
}

const SHEETS = { plan, schedule, lap, section, readings, photo, page, bar, colours };

export const draw = ({ kind, step }: Picture): Drawn => SHEETS[kind](step);

/** The same screen with the pointer at a place. */
export function withPointer(svg: string, { x, y }: { x: number; y: number }): string {
  return svg.replace(
    "</svg>",
    `<path d="M${x} ${y}l0 30l8 -7l6 13l6 -3l-6 -12l10 -1z" fill="${INK}" stroke="#FFF" stroke-width="2"/></svg>`,
  );
}
