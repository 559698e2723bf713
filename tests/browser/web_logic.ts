// What the web app computes by itself, as one script for the tests to call.
export { beyondSignal, levelOf, readCurve } from "../../web/src/line/curve";
export { alike, differences, merged, placeWords, same, valueWords } from "../../web/src/frame/merge";
export { follow } from "../../web/src/gauges/relays";
export { withUnit } from "../../web/src/frame/unitOnLeaving";
export { rowNumbers, withoutRow } from "../../web/src/frame/plan";
export { placesBy, toPlace } from "../../web/src/frame/numbers";
