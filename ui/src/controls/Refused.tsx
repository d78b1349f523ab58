/** Why what was just asked was not done; nothing where it was. */
export function Refused({ why }: { why: string | null }) {
  return why ? (
    <p className="fault" role="alert">
      {why}
    </p>
  ) : null;
}
