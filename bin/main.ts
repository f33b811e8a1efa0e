// Where the rooms are put together: the application, and the sample that stands beside it. The server bundle starts
// here.
import { startChannel } from "../demo/channel/channel";
import { startCourse } from "../demo/course";

export { once, start } from "../app/main.server";
export { loadDemo, resetDemo } from "../demo/load";

/** What stands in for something outside, beside the sample. */
export const besides = [startCourse, startChannel];
