import Box from "@mui/material/Box";
import { sayWho } from "#core/access/sentence";
import type { Audience } from "#core/access/access";
import type { SharedAs } from "#server/sharing/sharing";
import { Choices, Part } from "./Part";
import { MomentPart } from "./MomentPart";
import { PasswordPart } from "./PasswordPart";
import type { ShareChange } from "./shared";

interface Props {
  as: SharedAs;
  workspace: string;
  onChange: (change: ShareChange) => void;
}

/** Who can open it, from when until when, with what, and what they may do there. */
export function Sentence({ as, workspace, onChange }: Props) {
  const { folder } = as;
  const audiences: Partial<Record<Audience, string>> = {
    owner: "Only me",
    named: "Named people",
    // Where it lies in no folder, its people are nobody.
    ...(folder !== null && { folder: `The people of “${folder}”` }),
    workspace: `Everybody of ${workspace}`,
    anyone: "Anyone with the link",
  };
  const who = (
    <Part words={sayWho(as, workspace)} label="Who can open it">
      {(done) => (
        <Choices
          names={audiences}
          value={as.audience}
          words={AUDIENCE_WORDS}
          onChoose={(audience) => {
            onChange({ audience });
            done();
          }}
        />
      )}
    </Part>
  );
  return (
    <Box sx={{ fontSize: "1.15rem", lineHeight: 1.75, mb: 0.5 }}>
      {who} can open it
      {as.audience === "owner" ? (
        "."
      ) : (
        <>
          {" "}
          <MomentPart kind="opensAt" at={as.opensAt} onChange={onChange} />,{" "}
          <MomentPart kind="endsAt" at={as.endsAt} onChange={onChange} />,{" "}
          <PasswordPart has={as.hasPassword} onChange={onChange} />. They{" "}
          <YesNo
            label="May they comment"
            value={as.comments}
            yes="may comment"
            no="may not comment"
            onChoose={(comments) => onChange({ comments })}
          />
          , and{" "}
          <YesNo
            label="May they have it as a file"
            value={as.downloads}
            yes="may download it"
            no="may not download it"
            onChoose={(downloads) => onChange({ downloads })}
          />
          . Guests{" "}
          <YesNo
            label="Are guests asked for a name"
            value={as.asksNames}
            yes="give a name before they say something"
            no="may say something without a name"
            onChoose={(asksNames) => onChange({ asksNames })}
          />
          .
        </>
      )}
    </Box>
  );
}

const AUDIENCE_WORDS: Record<Audience, string> = {
  owner: "A draft. The link works for you alone.",
  named: "Those below, each by a personal link, a code by mail, or their account.",
  folder: "Those who belong to the folder in which it lies, and those who are named besides.",
  workspace: "Signed in, and those who are named besides.",
  anyone: "Whoever has it, also when it is passed on.",
};

/** One of two, in words. */
function YesNo({
  label,
  value,
  yes,
  no,
  onChoose,
}: {
  label: string;
  value: boolean;
  yes: string;
  no: string;
  onChoose: (value: string) => void;
}) {
  return (
    <Part words={value ? yes : no} label={label}>
      {(done) => (
        <Choices
          names={{ true: yes, false: no }}
          value={String(value) as "true" | "false"}
          onChoose={(next) => {
            onChoose(next);
            done();
          }}
        />
      )}
    </Part>
  );
}
