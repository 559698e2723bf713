import type { Schema } from "../api/client";

const SHAPES = { good: "●", watch: "◆", stop: "▲" } as const;
const WORDS = { good: "Good", watch: "Watch", stop: "Stop" } as const;

/** Judgements with their numbers; shape and word carry the weight, colour only helps. */
export function Judgements({ list }: { list: Schema["Judgement"][] }) {
  return (
    <ul className="judgements">
      {list.map((judgement) => (
        <li key={judgement.code + judgement.text} className={`judgement ${judgement.weight}`}>
          <span className="judgement-word">
            <span aria-hidden="true">{SHAPES[judgement.weight]}</span> {WORDS[judgement.weight]}
          </span>{" "}
          {judgement.text}
        </li>
      ))}
    </ul>
  );
}
