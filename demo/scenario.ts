import type { Audience } from "#core/access/access";
import type { AskKind, ReactionKind } from "../core/answers/kinds";
import type { Arrangement } from "../core/layout/layout";
import type { TakeSource } from "../core/media/tracks";
import type { DemoMember, PersonKey } from "./people";
import type { Picture } from "./screens";

/** One sentence or two: what is said, what the screen shows meanwhile, what changes in the layout. */
export interface Line {
  say: string;
  show?: Picture;
  chapter?: string;
  arrange?: Partial<Arrangement>;
  /** silence after it, in seconds */
  rest?: number;
}

export interface Said {
  by: PersonKey;
  /** the line of the script, from 0, and how many seconds into it */
  line: number;
  plus?: number;
  /** the line at whose end a stretch ends */
  until?: number;
  words: string;
  replies?: { by: PersonKey; words: string }[];
  settled?: boolean;
}

/** How somebody watches: see `viewing.ts`. */
export type Habit =
  | "whole"
  | "twice-the-hard-part"
  | "skips-the-opening"
  | "leaves-early"
  | "leaves-in-the-middle"
  | "dips-in"
  | "fast"
  | "glances";

export interface Script {
  slug: string;
  title: string;
  by: DemoMember["key"];
  source: TakeSource;
  daysAgo: number;
  audience?: Audience;
  lines: Line[];
  ask?: { kind: AskKind; question: string; choices?: string[]; /** days from now */ due?: number; closed?: boolean };
  invites?: PersonKey[];
  answers?: {
    by: PersonKey;
    kind: "nod" | "not-clear" | "choice" | "words";
    line?: number;
    choice?: number;
    words?: string;
  }[];
  comments?: Said[];
  reactions?: { by: PersonKey | "someone"; kind: ReactionKind; line: number; plus?: number }[];
  viewers?: { who: PersonKey | "unnamed" | "not-named"; habit: Habit; times?: number }[];
  /** the lines that are hard to follow, first and last */
  hard?: [number, number];
}

export const SCRIPTS: readonly Script[] = [
  {
    slug: "ridge-vent",
    title: "How the ridge vent closes",
    by: "orla",
    source: "screen-camera",
    daysAgo: 2,
    lines: [
      {
        say: "This is the ridge vent of the north range, seen from the east gable.",
        show: { kind: "section", step: 0 },
        chapter: "What you see",
      },
      {
        say: "The vent is one long leaf of glass. It turns on the ridge, and one rod moves all of it.",
        show: { kind: "section", step: 1 },
      },
      {
        say: "When you turn the wheel, the rod pulls the arm down, and the leaf settles on the felt.",
        show: { kind: "section", step: 2 },
        chapter: "Closing it",
        arrange: { place: "bottom-left" },
      },
      {
        say: "It must settle by its own weight. If you have to force the last inch, stop.",
        show: { kind: "section", step: 3 },
      },
      {
        say: "Nine times out of ten a pane has slipped, and the leaf stands on its edge. Look at the third bar first.",
        show: { kind: "section", step: 4 },
        chapter: "When it sticks",
      },
      {
        say: "Push the pane up with the flat of your hand, never with a tool. Then turn the wheel again.",
        show: { kind: "section", step: 2 },
      },
      {
        say: "Please nod when this is clear. If it is not, tell me where.",
        show: { kind: "photo", step: 0 },
        arrange: { place: "bottom-right", size: "large" },
      },
    ],
    ask: { kind: "nod", question: "Is it clear how to close the vent, and when to stop?", due: 3 },
    invites: ["bram", "suri", "maud", "pip"],
    answers: [
      { by: "bram", kind: "nod" },
      {
        by: "pip",
        kind: "not-clear",
        line: 4,
        words: "Which one is the third bar: from the gable, or from the wheel?",
      },
    ],
    comments: [
      {
        by: "bram",
        line: 3,
        plus: 1,
        words: "I would say *half* an inch. On the cold days the felt is stiff.",
        replies: [{ by: "orla", words: "You are right, I will say so next time." }],
      },
      {
        by: "pip",
        line: 4,
        plus: 2,
        until: 4,
        words: "What if two panes have slipped? Do I take the lower one first?",
        replies: [
          { by: "bram", words: "The _lower_ one. Otherwise the upper one comes down on your hand." },
          { by: "pip", words: "Understood." },
        ],
      },
      {
        by: "maud",
        line: 6,
        words: "Very clear, thank you. May the gardeners have this link?",
        replies: [{ by: "orla", words: "Of course." }],
        settled: true,
      },
    ],
    reactions: [
      { by: "bram", kind: "got-it", line: 2, plus: 2 },
      { by: "pip", kind: "not-clear", line: 4, plus: 3 },
      { by: "someone", kind: "not-clear", line: 4, plus: 4 },
      { by: "maud", kind: "thanks", line: 6, plus: 1 },
      { by: "suri", kind: "good-point", line: 3, plus: 2 },
    ],
    viewers: [
      { who: "bram", habit: "whole" },
      { who: "pip", habit: "twice-the-hard-part" },
      { who: "maud", habit: "whole" },
      { who: "unnamed", habit: "leaves-in-the-middle", times: 2 },
      { who: "not-named", habit: "whole" },
    ],
    hard: [4, 5],
  },
  {
    slug: "pane-schedule",
    title: "Pane schedule for the north range",
    by: "suri",
    source: "screen-camera",
    daysAgo: 6,
    lines: [
      {
        say: "This is the pane schedule for the north range. It has ninety six rows, and I will show you how to read three of them.",
        show: { kind: "schedule", step: 0 },
        chapter: "The schedule",
      },
      {
        say: "Each row is one pane. The number says the bay, then the course, then the place in the course. So B, four, two is bay B, the fourth course from the gutter, the second pane from the left.",
        show: { kind: "schedule", step: 1 },
      },
      {
        say: "On the plan it is this one. Every pane on the plan carries the same number.",
        show: { kind: "plan", step: 1 },
      },
      {
        say: "The next three columns are sizes. Width and height at the rebate, not of the glass. The glass is cut three millimetres less each way.",
        show: { kind: "schedule", step: 2 },
        chapter: "Sizes",
      },
      {
        say: "Now the hard part: the lap. Each pane lies over the one below it by the lap, and the lap is not the same in every course.",
        show: { kind: "lap", step: 0 },
        chapter: "The lap",
        arrange: { scene: "screen" },
      },
      {
        say: "At the gutter it is nine millimetres. It grows by one millimetre for each course, until it is fourteen at the ridge, because the roof is steeper there and the wind drives the rain up.",
        show: { kind: "lap", step: 1 },
      },
      {
        say: "So the height of the glass in course four is the rebate height, plus twelve for the lap, less three for the clearance. For B, four, two that is six hundred and nine.",
        show: { kind: "lap", step: 2 },
      },
      {
        say: "If you forget the lap, the pane is too short, and you will only see it when the course above is already on.",
        show: { kind: "lap", step: 3 },
      },
      {
        say: "The last column is the state. A is sound. B is cracked and can wait. C must be replaced before the frost.",
        show: { kind: "schedule", step: 3 },
        chapter: "What to order",
        arrange: { scene: "inset", place: "top-right" },
      },
      {
        say: "Row C is where I need you. Twelve panes in bay C are old cylinder glass. They are cracked, but they are what the light in this house is made of.",
        show: { kind: "plan", step: 2 },
      },
      {
        say: "We can cut old glass from the spare lights, we can order new drawn glass, or we can leave them for this winter. Please choose.",
        show: { kind: "plan", step: 3 },
      },
      { say: "If we order, it has to be this week. Thank you.", show: { kind: "schedule", step: 3 } },
    ],
    ask: {
      kind: "choice",
      question: "Which glass for the twelve cracked panes in bay C?",
      choices: ["Old glass from the spare lights", "New drawn glass", "Leave them this winter"],
      due: -2,
    },
    invites: ["orla", "bram", "maud"],
    answers: [
      { by: "bram", kind: "choice", choice: 0 },
      { by: "orla", kind: "choice", choice: 0 },
    ],
    comments: [
      {
        by: "pip",
        line: 1,
        plus: 4,
        words: "Is the first course the one at the gutter, or the one at the ridge?",
        replies: [{ by: "suri", words: "At the gutter. We count as we glaze: from below." }],
        settled: true,
      },
      {
        by: "bram",
        line: 6,
        until: 6,
        words: "609 is right for B42. I checked it on the bench this morning.",
        replies: [{ by: "suri", words: "Thank you. That is one of ninety-six." }],
      },
      {
        by: "orla",
        line: 9,
        plus: 3,
        words:
          "There are nine spare lights in the boiler house, so the old glass would be enough for ten panes, *not* twelve.",
        replies: [{ by: "bram", words: "Ten and a half. I can turn one." }],
      },
      { by: "pip", line: 5, plus: 2, words: "I had to hear this three times. Is there a table for the laps?" },
    ],
    reactions: [
      { by: "pip", kind: "not-clear", line: 5, plus: 3 },
      { by: "someone", kind: "not-clear", line: 5, plus: 5 },
      { by: "someone", kind: "not-clear", line: 6, plus: 1 },
      { by: "bram", kind: "got-it", line: 6, plus: 5 },
      { by: "orla", kind: "good-point", line: 9, plus: 5 },
      { by: "someone", kind: "good-point", line: 7, plus: 2 },
    ],
    viewers: [
      { who: "orla", habit: "twice-the-hard-part" },
      { who: "bram", habit: "twice-the-hard-part" },
      { who: "pip", habit: "twice-the-hard-part" },
      { who: "maud", habit: "glances" },
      { who: "unnamed", habit: "twice-the-hard-part", times: 5 },
      { who: "unnamed", habit: "whole", times: 4 },
      { who: "unnamed", habit: "leaves-in-the-middle", times: 5 },
      { who: "unnamed", habit: "leaves-early", times: 3 },
      { who: "not-named", habit: "whole", times: 2 },
    ],
    hard: [4, 7],
  },
  {
    slug: "no-heat",
    title: "Why we do not strip old putty with heat",
    by: "bram",
    source: "camera",
    daysAgo: 12,
    lines: [
      { say: "A hot air gun takes the putty off in ten minutes. So why do I make you spend a day with a knife?" },
      { say: "Because the glass is two hundred years old, and it has never been warm on one side only." },
      {
        say: "Cylinder glass has stress in it from the day it was flattened. Warm one edge, and it lets go, from corner to corner, at once.",
      },
      {
        say: "I broke four panes before I believed it. They hang in the workshop, and you are welcome to look at them.",
      },
      { say: "So: a blunt knife, linseed oil the evening before, and patience." },
    ],
    comments: [
      {
        by: "pip",
        line: 2,
        plus: 3,
        words: "Would a steam box do?",
        replies: [{ by: "bram", words: "For sashes on the bench, yes. Never on the roof." }],
      },
    ],
    reactions: [
      { by: "pip", kind: "smile", line: 3, plus: 2 },
      { by: "suri", kind: "smile", line: 3, plus: 3 },
      { by: "orla", kind: "good-point", line: 2, plus: 4 },
    ],
    viewers: [
      { who: "pip", habit: "whole" },
      { who: "suri", habit: "whole" },
      { who: "orla", habit: "fast" },
      { who: "unnamed", habit: "whole", times: 3 },
    ],
  },
  {
    slug: "sill-moisture",
    title: "Moisture in the east sill: three weeks of readings",
    by: "suri",
    source: "screen",
    daysAgo: 4,
    lines: [
      {
        say: "These are the readings from the east sill, one every morning for three weeks.",
        show: { kind: "readings", step: 0 },
      },
      {
        say: "Dry oak stands at twelve to fifteen per cent. The west end is there all the time.",
        show: { kind: "readings", step: 1 },
      },
      {
        say: "The east end starts at eighteen, and after the rain on the ninth it goes to twenty six and stays there.",
        show: { kind: "readings", step: 2 },
      },
      {
        say: "Above twenty, rot does not stop. It means that the water comes from behind, and not from the glass.",
        show: { kind: "readings", step: 3 },
      },
      { say: "I would open the last metre and look. It costs two days. May we?", show: { kind: "photo", step: 1 } },
    ],
    ask: { kind: "words", question: "May we open the last metre of the east sill?", due: 5 },
    invites: ["maud"],
    answers: [
      { by: "maud", kind: "words", words: "Yes, please do. Could it be in the week when the peaches are under cover?" },
    ],
    comments: [
      {
        by: "maud",
        line: 2,
        plus: 3,
        words: "Is that the corner where the downpipe was moved in my father's time?",
        replies: [{ by: "suri", words: "The very one. I will bring the old photograph." }],
      },
    ],
    reactions: [{ by: "maud", kind: "got-it", line: 3, plus: 3 }],
    viewers: [
      { who: "maud", habit: "whole" },
      { who: "orla", habit: "whole" },
    ],
  },
  {
    slug: "from-the-lawn",
    title: "What the house will look like from the lawn",
    by: "orla",
    source: "screen-camera",
    daysAgo: 20,
    lines: [
      {
        say: "Good morning. Before I come to the picture, let me say a few words about how we came to this proposal, and who has worked on it.",
        show: { kind: "page", step: 0 },
        chapter: "Good morning",
      },
      {
        say: "We began in the spring with the survey. Suri measured every pane, and Bram took down two bars to see how they were made.",
        show: { kind: "page", step: 1 },
      },
      {
        say: "We then compared the bars with the two drawings in the estate office, and found that the pitch had been changed at least once.",
        show: { kind: "page", step: 2 },
      },
      {
        say: "Thank you to everybody who kept the doors open for us, also on the two wet Mondays.",
        show: { kind: "page", step: 3 },
      },
      {
        say: "Now to the picture. This is the house from the lawn, as it stands today. The ridge sags by a hand's breadth in the middle.",
        show: { kind: "photo", step: 2 },
        chapter: "From the lawn",
        arrange: { place: "top-left", size: "small" },
      },
      {
        say: "And this is the same view with the ridge lifted, the finials back, and the low wall without the ivy.",
        show: { kind: "photo", step: 3 },
      },
      {
        say: "The glass will look a little uneven. That is the old glass. It is meant to.",
        show: { kind: "photo", step: 4 },
      },
      {
        say: "If you agree with this picture, please nod, and we order the timber.",
        show: { kind: "photo", step: 3 },
        chapter: "What I need",
        arrange: { place: "bottom-right", size: "medium" },
      },
    ],
    ask: {
      kind: "nod",
      question: "Do you agree with the picture, so that we can order the timber?",
      due: -10,
      closed: true,
    },
    invites: ["maud", "bram", "suri"],
    answers: [
      { by: "maud", kind: "nod" },
      { by: "bram", kind: "nod" },
      { by: "suri", kind: "nod" },
    ],
    comments: [
      {
        by: "maud",
        line: 5,
        plus: 2,
        words: "The finials! My grandmother had one of them in the rose garden.",
        replies: [{ by: "orla", words: "We found it there. It is the pattern for the other five." }],
      },
      { by: "suri", line: 4, plus: 4, words: "110 mm at the fifth truss, to be exact." },
    ],
    reactions: [
      { by: "maud", kind: "smile", line: 5, plus: 3 },
      { by: "maud", kind: "thanks", line: 7, plus: 2 },
      { by: "bram", kind: "got-it", line: 6, plus: 2 },
    ],
    viewers: [
      { who: "maud", habit: "skips-the-opening" },
      { who: "bram", habit: "skips-the-opening" },
      { who: "suri", habit: "whole" },
      { who: "unnamed", habit: "skips-the-opening", times: 6 },
      { who: "unnamed", habit: "leaves-early", times: 4 },
    ],
    hard: [5, 6],
  },
  {
    slug: "scarf-joint",
    title: "Mending a glazing bar with a scarf joint",
    by: "bram",
    source: "screen-camera",
    daysAgo: 3,
    lines: [
      {
        say: "This bar is sound down to here, and gone below. We do not throw it away. We scarf in a new foot.",
        show: { kind: "bar", step: 0 },
        chapter: "The bar",
      },
      {
        say: "Mark the slope at one in eight. On a bar of forty millimetres the joint is three hundred and twenty long.",
        show: { kind: "bar", step: 1 },
        chapter: "Marking",
      },
      {
        say: "Cut both pieces together, in one clamp, with the moulding up. Then the profiles meet by themselves.",
        show: { kind: "bar", step: 2 },
        arrange: { place: "top-right" },
      },
      {
        say: "Glue, two pegs, and a night. No screws: they rust, and the rust splits what you have just saved.",
        show: { kind: "bar", step: 3 },
        chapter: "Gluing",
      },
      { say: "In the morning, plane the back flush, and oil it before it sees rain.", show: { kind: "bar", step: 4 } },
      {
        say: "Pip, cut one from waste before you touch the real one. Nod when you have.",
        show: { kind: "bar", step: 4 },
      },
    ],
    ask: { kind: "nod", question: "Pip: have you cut one from waste?", due: 6 },
    invites: ["pip"],
    comments: [
      {
        by: "suri",
        line: 1,
        plus: 3,
        words: "One in eight on the soft wood ones too?",
        replies: [{ by: "bram", words: "One in ten there. Good question." }],
      },
    ],
    reactions: [{ by: "suri", kind: "got-it", line: 2, plus: 3 }],
    viewers: [
      { who: "suri", habit: "whole" },
      { who: "pip", habit: "leaves-in-the-middle" },
      { who: "unnamed", habit: "dips-in", times: 2 },
    ],
  },
  {
    slug: "ladder",
    title: "Before you climb: the ladder and the gutter",
    by: "bram",
    source: "voice",
    daysAgo: 9,
    lines: [
      { say: "Never lean the ladder on the gutter. It holds water, it does not hold you." },
      { say: "Lean it on the plate behind the gutter, with the padded board, one foot out for four feet up." },
      { say: "And somebody stands below. If there is nobody, there is no climbing." },
      { say: "When the board is wet, wait. The roof has waited for two hundred years, it can wait for the sun." },
    ],
    ask: { kind: "nod", question: "" },
    invites: ["pip", "suri"],
    answers: [
      { by: "pip", kind: "nod" },
      { by: "suri", kind: "nod" },
    ],
    reactions: [{ by: "pip", kind: "got-it", line: 1, plus: 2 }],
    viewers: [
      { who: "pip", habit: "whole" },
      { who: "suri", habit: "whole" },
    ],
  },
  {
    slug: "ironwork-colour",
    title: "Three colours for the ironwork",
    audience: "named",
    by: "orla",
    source: "screen",
    daysAgo: 1,
    lines: [
      {
        say: "Under the white there are three colours, and each was there for a while.",
        show: { kind: "colours", step: 0 },
      },
      {
        say: "The oldest is this stone colour. It was never bright, and it does not show dust.",
        show: { kind: "colours", step: 1 },
      },
      { say: "Then the dark green, from about the time the boiler came.", show: { kind: "colours", step: 2 } },
      {
        say: "And the white is from the last fifty years. It is what people remember.",
        show: { kind: "colours", step: 3 },
      },
      { say: "Tell me which one you want to live with.", show: { kind: "colours", step: 0 } },
    ],
    ask: {
      kind: "choice",
      question: "Which colour for the ironwork?",
      choices: ["Stone", "Dark green", "White"],
      due: 8,
    },
    invites: ["maud", "bram", "suri"],
    answers: [{ by: "suri", kind: "choice", choice: 0 }],
    comments: [{ by: "suri", line: 1, plus: 2, words: "Stone. You do not see iron then, you see leaves." }],
    viewers: [{ who: "suri", habit: "whole" }],
  },
  {
    slug: "survey-drawing",
    title: "Reading the survey drawing",
    audience: "workspace",
    by: "suri",
    source: "screen-camera",
    daysAgo: 15,
    lines: [
      {
        say: "For everybody who is new here: this is how to read our drawings.",
        show: { kind: "plan", step: 0 },
        chapter: "The sheet",
      },
      {
        say: "We look at the roof from above. The gutter is at the bottom of the sheet, the ridge is the thick line at the top.",
        show: { kind: "plan", step: 0 },
      },
      {
        say: "Bays have letters, from west to east. A bay is what lies between two trusses.",
        show: { kind: "plan", step: 1 },
        chapter: "Bays and courses",
      },
      {
        say: "Hatched panes are to be replaced. Panes with a dot are old glass, and nobody cuts them without asking Orla.",
        show: { kind: "plan", step: 2 },
        arrange: { place: "top-right" },
      },
      {
        say: "Numbers in a frame are heights above the floor of the house, not above the lawn. That has cost us a scaffold once.",
        show: { kind: "plan", step: 3 },
        chapter: "Heights",
      },
      {
        say: "If something on site is not as on the sheet, the site is right. Write it on the sheet, with the date, and tell me.",
        show: { kind: "page", step: 3 },
      },
    ],
    comments: [
      {
        by: "pip",
        line: 4,
        plus: 3,
        words: "A _whole_ scaffold?",
        replies: [{ by: "suri", words: "A whole scaffold, 40 cm too low." }],
      },
      { by: "bram", line: 3, plus: 2, words: "And nobody drills near them either." },
    ],
    reactions: [
      { by: "pip", kind: "got-it", line: 3, plus: 2 },
      { by: "pip", kind: "smile", line: 4, plus: 4 },
      { by: "someone", kind: "smile", line: 4, plus: 4 },
      { by: "bram", kind: "good-point", line: 5, plus: 3 },
    ],
    viewers: [
      { who: "pip", habit: "whole" },
      { who: "bram", habit: "fast" },
      { who: "unnamed", habit: "whole", times: 5 },
      { who: "unnamed", habit: "leaves-in-the-middle", times: 3 },
      { who: "unnamed", habit: "glances", times: 2 },
    ],
    hard: [3, 4],
  },
  {
    slug: "thursday-visit",
    title: "Notes for the visit on Thursday",
    by: "orla",
    source: "voice",
    daysAgo: 0,
    audience: "owner",
    lines: [
      { say: "For Thursday. Bring the pane schedule, the three colour samples, and the moisture readings." },
      { say: "Ask about the peaches first, and about the money last. And look at the third bar." },
      {
        say: "If it rains, go to the boiler house first, and count the spare lights. I think there are nine, and Bram says ten.",
      },
    ],
  },
];
