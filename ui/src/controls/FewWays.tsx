/** One of a few, all in sight: what is chosen is the pressed one. */
interface Props<Way extends string> {
  label: string;
  ways: readonly (readonly [Way, string])[];
  value: Way;
  onValue: (way: Way) => void;
}

/** The two shapes a section of the frame may have. */
export const BODY_SHAPES = [
  ["box", "Box"],
  ["round", "Round"],
] as const;

export function FewWays<Way extends string>({ label, ways, value, onValue }: Props<Way>) {
  return (
    <div className="few-ways" role="group" aria-label={label}>
      {ways.map(([way, words]) => (
        <button key={way} type="button" className="do" aria-pressed={value === way} onClick={() => onValue(way)}>
          {words}
        </button>
      ))}
    </div>
  );
}
