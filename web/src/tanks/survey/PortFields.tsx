import Button from "react-bootstrap/Button";

import type { Words } from "../../frame/words";
import type { Port } from "../tank";

interface Props {
  words: Words;
  ports: Port[];
  onChange: (ports: Port[]) => void;
}

/** The openings in the top: what each is used for, its size and where it is. */
export function PortFields({ words, ports, onChange }: Props) {
  const change = (index: number, changes: Partial<Port>) =>
    onChange(ports.map((port, i) => (i === index ? { ...port, ...changes } : port)));
  return (
    <fieldset>
      <legend>Openings</legend>
      {ports.length === 0 && (
        <p className="text-quiet">Note the vent first, then fill, spare and sensor openings.</p>
      )}
      {ports.map((port, index) => {
        const name = port.name || `Opening ${index + 1}`;
        return (
          <div key={index} className="port-row" role="group" aria-label={name}>
            <input
              className="form-control"
              aria-label={`${name}: name`}
              placeholder="name"
              maxLength={200}
              value={port.name}
              onChange={(event) => change(index, { name: event.target.value })}
            />
            <input
              className="form-control"
              aria-label={`${name}: size`}
              placeholder="size, 2 in"
              maxLength={200}
              value={port.size}
              onChange={(event) => change(index, { size: event.target.value })}
            />
            <input
              className="form-control"
              aria-label={`${name}: position along the tank`}
              placeholder="position, 0.4 m"
              maxLength={200}
              value={port.position}
              onChange={(event) => change(index, { position: event.target.value })}
            />
            <Button
              variant="outline-secondary"
              aria-label={`Remove ${name}`}
              onClick={() => onChange(ports.filter((_, i) => i !== index))}
            >
              Remove
            </Button>
            <div className="uses" role="group" aria-label={`${name}: used for`}>
              {Object.entries(words.port_uses).map(([use, label]) => (
                <label key={use} className="use">
                  <input
                    type="checkbox"
                    checked={port.uses.includes(use)}
                    onChange={(event) =>
                      change(index, {
                        uses: event.target.checked
                          ? [...port.uses, use]
                          : port.uses.filter((one) => one !== use),
                      })
                    }
                  />{" "}
                  {label}
                </label>
              ))}
            </div>
          </div>
        );
      })}
      <Button
        variant="outline-secondary"
        onClick={() => onChange([...ports, { name: "", uses: ["spare"], size: "", position: "", note: "" }])}
      >
        Add an opening
      </Button>
    </fieldset>
  );
}
