// Where the rooms are put together: the application, and the sample that stands beside it. The server bundle starts
// here.
export { once, start } from "../app/main.server";
export { startCourse } from "../demo/course";
export { loadDemo, resetDemo } from "../demo/load";
