/** The small button that takes a line of a list away, or a value back. */
export function Remove({
  label,
  disabled = false,
  onRemove,
}: {
  label: string;
  disabled?: boolean;
  onRemove: () => void;
}) {
  return (
    <button type="button" className="remove" aria-label={label} disabled={disabled} onClick={onRemove}>
      ×
    </button>
  );
}
