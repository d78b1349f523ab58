/** What the frame carries of a kind, one chosen, and another to be added. */
import { useBench } from "@/bench/state";
import { pick } from "@/bench/store";
import { Remove } from "@/controls/Remove";

interface Props {
  kind: "mass" | "drag";
  things: { name: string }[];
  /** What stands at the end of its line. */
  shows: (index: number) => string;
  add: string;
  /** Named "Mass", the first free of "Mass 1", "Mass 2" … */
  called: string;
  onAdd: (name: string) => void;
  onRemove: (index: number) => void;
}

export function useChosen(things: unknown[]): number {
  return Math.min(
    useBench((s) => s.picked.index),
    things.length - 1,
  );
}

export function PickList({ kind, things, shows, add, called, onAdd, onRemove }: Props) {
  const chosen = useChosen(things);
  const next = () => {
    const taken = new Set(things.map((t) => t.name));
    let n = 1;
    while (taken.has(`${called} ${n}`)) n++;
    onAdd(`${called} ${n}`);
    pick(kind, things.length);
  };
  return (
    <>
      <ul className="pick-list">
        {things.map((thing, n) => (
          <li key={thing.name}>
            <button
              type="button"
              className={n === chosen ? "chosen" : undefined}
              aria-pressed={n === chosen}
              onClick={() => pick(kind, n)}
            >
              <span>{thing.name}</span>
              <b>{shows(n)}</b>
            </button>
            <Remove label={`Remove ${thing.name}`} onRemove={() => onRemove(n)} />
          </li>
        ))}
      </ul>
      <button type="button" className="do" onClick={next}>
        {add}
      </button>
    </>
  );
}
