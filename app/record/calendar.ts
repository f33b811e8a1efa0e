import ICAL from "ical.js";

export interface Appointment {
  /** the same for the same appointment: a calendar that has it already changes it */
  uid: string;
  title: string;
  /** what a person can open there */
  url: string;
  /** when it begins, and when this is written; ms since 1970 */
  at: number;
  now: number;
  minutes: number;
}

const utc = (ms: number) => ICAL.Time.fromJSDate(new Date(ms), true);

/** One appointment as an iCalendar file (RFC 5545), with a reminder five minutes before. Times are in UTC. */
export function calendarFile({ uid, title, url, at, now, minutes }: Appointment): string {
  const calendar = new ICAL.Component("vcalendar");
  calendar.updatePropertyWithValue("version", "2.0");
  calendar.updatePropertyWithValue("prodid", "-//Clear Nod//Recorder//EN");
  const event = new ICAL.Component("vevent");
  event.updatePropertyWithValue("uid", uid);
  event.updatePropertyWithValue("dtstamp", utc(now));
  event.updatePropertyWithValue("dtstart", utc(at));
  event.updatePropertyWithValue("dtend", utc(at + minutes * 60_000));
  event.updatePropertyWithValue("summary", title);
  event.updatePropertyWithValue("url", url);
  const alarm = new ICAL.Component("valarm");
  alarm.updatePropertyWithValue("action", "DISPLAY");
  alarm.updatePropertyWithValue("description", title);
  alarm.updatePropertyWithValue("trigger", ICAL.Duration.fromString("-PT5M"));
  event.addSubcomponent(alarm);
  calendar.addSubcomponent(event);
  return `${calendar.toString()}\r\n`;
}
