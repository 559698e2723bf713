// What the web app computes by itself, as one script for the tests to call.
export { beyondSignal, levelOf, readCurve } from "../../web/src/line/curve";
export { rowNumbers, withoutRow } from "../../web/src/frame/plan";
