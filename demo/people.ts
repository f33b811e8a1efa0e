/** The practice, and the people outside it. All of them are made up. */
export interface DemoMember {
  key: "orla" | "bram" | "suri";
  name: string;
  email: string;
  /** what they do, for the sign-in page */
  role: string;
  look: Look;
  /** the drawing of them is their portrait as well */
  pictured: boolean;
  voice: Voice;
}

/** How a drawn presenter looks. */
export interface Look {
  skin: string;
  hair: string;
  coat: string;
  beard: boolean;
  longHair: boolean;
}

/** A voice of the speech synthesizer, with its speed (1 is its own) and pitch (1 is its own). */
export interface Voice {
  name: "slt" | "rms" | "awb";
  stretch: number;
  pitch: number;
}

/** By this the sample is known again. */
export const WORKSPACE_ID = "0c1ea470-0d00-4000-8000-000000000001";
export const WORKSPACE = "Fenn & Lark Glasshouses";
export const PASSWORD = "ridge-vent-and-putty";

export const MEMBERS: readonly DemoMember[] = [
  {
    key: "orla",
    name: "Orla Fenn",
    email: "orla@fennlark.example",
    role: "leads the practice",
    look: { skin: "#E8B996", hair: "#6B3A22", coat: "#2F7D5B", beard: false, longHair: true },
    pictured: true,
    voice: { name: "slt", stretch: 1.08, pitch: 1 },
  },
  {
    key: "bram",
    name: "Bram Lark",
    email: "bram@fennlark.example",
    role: "glazier and joiner",
    look: { skin: "#C98F6B", hair: "#2B2320", coat: "#7A5A36", beard: true, longHair: false },
    pictured: false,
    voice: { name: "rms", stretch: 1.02, pitch: 1 },
  },
  {
    key: "suri",
    name: "Suri Vale",
    email: "suri@fennlark.example",
    role: "surveyor",
    look: { skin: "#8D5B3E", hair: "#1B1715", coat: "#35536B", beard: false, longHair: true },
    pictured: true,
    voice: { name: "slt", stretch: 1.02, pitch: 0.93 },
  },
];

export const GUESTS = { maud: "Maud Thorne", pip: "Pip Sedge" } as const;
export type GuestKey = keyof typeof GUESTS;
export type PersonKey = DemoMember["key"] | GuestKey;
