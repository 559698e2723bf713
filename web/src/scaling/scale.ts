import type { Schema } from "../api/client";
import type { System } from "../frame/units";

/** A transmitter's fields while they are being typed. */
export interface ScaleForm {
  entries: Schema["TransmitterEntries"];
  serial: string;
  system: System;
}
