import { createTransport } from "nodemailer";
import type { MailKind } from "#core/mail/kinds";
import type { Mail } from "../database/models/mail";
import type { Settings } from "../settings";

/** The words of a mail and where it goes, as they are carried. */
export type Carried = Pick<Mail, "id" | "kind" | "toAddress" | "toName" | "sender" | "subject"> & {
  text: string;
  html: string;
};

/** A mail was refused for good: trying again changes nothing. */
export class Bounced extends Error {}

/** Brings mail out of the house. */
export interface Carrier {
  /** the words stay here afterwards, to be looked at */
  readonly keepsWords: boolean;
  /** it leaves the house, to whoever has the address */
  readonly delivers: boolean;
  /**
   * @param stopUrl where no more of this is wanted by one press; null for what comes always
   * @throws {Bounced} for what will never arrive; anything else may be tried again
   */
  carry(mail: Carried, stopUrl: string | null): Promise<void>;
  close(): void;
}

/** The stand-in: keeps what would be sent, for the page *Post*. */
const keeper: Carrier = { keepsWords: true, delivers: false, carry: () => Promise.resolve(), close: () => undefined };

/** Where nothing is set up: nothing is sent, nothing is kept, and whoever waits for it is told. */
const noCarrier: Carrier = {
  keepsWords: false,
  delivers: false,
  carry: () => Promise.reject(new Bounced("No mail server is set up here.")),
  close: () => undefined,
};

const WAIT_MS = 20_000;
/** What somebody has asked to be sent just now. */
const SENT_BY_PEOPLE: ReadonlySet<MailKind> = new Set(["recording", "folder", "join"]);

/** What nodemailer tells of what went wrong, and at which command of SMTP. */
interface SmtpProblem {
  command?: string;
  responseCode?: number;
  response?: string;
}

/**
 * By SMTP.
 * @param url `smtp://` or `smtps://`, with name and password where they are needed
 * @param from the address that everything comes from
 */
export function smtpCarrier(url: string, from: string): Carrier {
  const waits = { connectionTimeout: WAIT_MS, greetingTimeout: WAIT_MS, socketTimeout: 2 * WAIT_MS };
  const transport = createTransport({ url, pool: true, maxConnections: 2, ...waits } as object);
  return {
    keepsWords: false,
    delivers: true,
    async carry({ id, kind, toAddress, toName, sender, subject, text, html }, stopUrl) {
      try {
        await transport.sendMail({
          from: { name: sender ? `${sender.name} (Clear Nod)` : "Clear Nod", address: from },
          to: toName ? { name: toName, address: toAddress } : toAddress,
          subject,
          text,
          html,
          // Tried again after an answer that was lost, it is the same mail.
          messageId: `<${id}@${from.split("@")[1]}>`,
          ...(sender && { replyTo: sender }),
          headers: {
            // RFC 8058: one press, without a page between.
            ...(stopUrl && {
              "List-Unsubscribe": `<${stopUrl}>`,
              "List-Unsubscribe-Post": "List-Unsubscribe=One-Click",
            }),
            // RFC 3834: nobody's holiday note answers what no person has sent.
            ...(!SENT_BY_PEOPLE.has(kind) && { "Auto-Submitted": "auto-generated" }),
          },
          disableFileAccess: true,
          disableUrlAccess: true,
        });
      } catch (cause) {
        const { command, responseCode = 0, response } = cause as SmtpProblem;
        // What is said of an addressee alone: a wrong password of ours, or a full quota, is mended and tried again.
        if (command === "RCPT TO" && responseCode >= 500)
          throw new Bounced(response?.slice(0, 300) ?? String(responseCode), { cause });
        throw cause;
      }
    },
    close: () => transport.close(),
  };
}

/** What carries mail here: the server that is set up; in the sample, nothing but the page on which it is looked at. */
export function carrierOf({ mailUrl, mailFrom, demo }: Pick<Settings, "mailUrl" | "mailFrom" | "demo">): Carrier {
  if (mailUrl) return smtpCarrier(mailUrl, mailFrom);
  return demo ? keeper : noCarrier;
}
