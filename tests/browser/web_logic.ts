// What the web app computes by itself, as one script for the tests to call.
export { beyondSignal, levelOf, readCurve } from "../../web/src/line/curve";
export { differences, merged, placeWords, same, valueWords } from "../../web/src/frame/merge";
export { rowNumbers, withoutRow } from "../../web/src/frame/plan";
