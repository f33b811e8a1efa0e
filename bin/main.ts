// Where the rooms are put together: the application, and the sample that stands beside it. The server bundle starts
// here.
import { startChannel } from "../demo/channel/channel";
import { startCourse } from "../demo/course";

export { once, start } from "../app/main.server";
export { loadDemo, resetDemo } from "../demo/load";

// For `npm run cluster`, which starts many over one of each.
export { startCluster } from "../server/database/cluster";
export { keptSecret } from "../server/settings";

/** What stands in for something outside, beside the sample. */
export const besides = [startCourse, startChannel];
