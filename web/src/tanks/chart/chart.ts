import type { Schema } from "../../api/client";

export type Mapping = Schema["Mapping"];
export type ChartPreview = Schema["ChartPreview"];

/** A file with a chart, as it was picked or pasted. */
export interface ChartFile {
  text: string;
  /** An XLSX workbook in Base64. */
  workbook: string;
  reference_height_mm: number | null;
}
