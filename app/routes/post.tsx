import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Notice } from "../components/Notice";
import { When } from "../components/When";
import { PlainText } from "../components/PlainText";
import { orNotFound, requireMember } from "../services/guard.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/post";

export const meta: Route.MetaFunction = () => [{ title: "Post · Clear Nod" }];

/** What would have been mailed, in the sample: every letter, as text and as it looks. */
export async function loader({ context, url }: Route.LoaderArgs) {
  const app = context.get(appContext);
  requireMember(app, url);
  const mails = await orNotFound(app.runtime.post.kept());
  return {
    mails: mails.map((mail) => ({
      ...mail,
      madeAt: mail.madeAt.toISOString(),
      sentAt: mail.sentAt !== null,
      shownAt: mail.shownAt !== null,
    })),
  };
}

export default function PostPage({ loaderData }: Route.ComponentProps) {
  const { mails } = loaderData;
  if (mails.length === 0)
    return (
      <Notice title="Nothing was mailed yet">
        What would be mailed stands here instead: the sample has no mail server. Send a recording to somebody.
      </Notice>
    );
  return (
    <Box sx={{ maxWidth: 960, mx: "auto", px: { xs: 1.5, sm: 3 }, py: { xs: 2, md: 4 } }}>
      <Typography variant="h1">Post</Typography>
      <Typography sx={{ mb: 3 }}>
        What would be mailed. The sample has no mail server, so it stays here. Letters that let somebody into an account
        are not shown.
      </Typography>
      {mails.map(({ id, subject, toName, toAddress, madeAt, text, html, failed, shownAt }) => (
        <Box key={id} component="article" aria-label={subject} sx={{ borderTop: "1px solid", py: 2 }}>
          <Typography variant="h2">{subject}</Typography>
          <Typography color="text.secondary" sx={{ mb: 1 }}>
            To {toName ? `${toName}, ` : ""}
            {toAddress}, <When at={madeAt} />
            {failed && `. Not sent: ${failed}`}
            {shownAt && ". Not sent: their browser has told them."}
          </Typography>
          {html && (
            <Box
              component="iframe"
              title={`The letter “${subject}”`}
              loading="lazy"
              sandbox="allow-popups allow-popups-to-escape-sandbox"
              srcDoc={html.replace("<head>", '<head><base target="_blank">')}
              sx={{ width: "100%", height: 540, border: "1px solid", borderColor: "mist" }}
            />
          )}
          {text && (
            <Box component="details" sx={{ mt: 1 }}>
              <Typography component="summary">As plain text</Typography>
              <Box component="pre" sx={{ whiteSpace: "pre-wrap", overflowWrap: "anywhere", fontSize: 14 }}>
                <PlainText text={text} />
              </Box>
            </Box>
          )}
        </Box>
      ))}
    </Box>
  );
}
