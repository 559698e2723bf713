import { useMutation } from "@tanstack/react-query";
import { useId } from "react";

import { api, ask, type Schema, wordsOf } from "../api/client";
import { shrunk } from "./picture";

/** Reads the code on a device's label from a picture: QR, Data Matrix or Code 128. */
export function ScanButton({ onScanned }: { onScanned: (found: Schema["Scanned"]) => void }) {
  const id = useId();
  const scan = useMutation({
    mutationFn: async (file: File) => ask(api.POST("/api/scan/", { body: { picture: await shrunk(file) } })),
    onSuccess: ([first]) => {
      if (first) onScanned(first);
    },
  });
  return (
    <div>
      <label htmlFor={id} className="btn btn-outline-secondary">
        {scan.isPending ? "Reading…" : "Scan its label"}
      </label>
      <input
        id={id}
        type="file"
        accept="image/*"
        capture="environment"
        className="visually-hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) scan.mutate(file);
          event.target.value = "";
        }}
      />
      {scan.data?.[0] && <p className="text-quiet">Read: {scan.data[0].text}</p>}
      {scan.error && (
        <p role="alert" className="problem">
          {wordsOf(scan.error)}
        </p>
      )}
    </div>
  );
}
