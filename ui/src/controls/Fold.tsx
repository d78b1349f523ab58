/** A fold that stays as it was left, whichever station one has been to since. */
import { type ReactNode, useId } from "react";
import { create } from "zustand";

const useFolds = create<Record<string, boolean>>(() => ({}));

export function openFold(name: string): void {
  useFolds.setState({ [name]: true });
}

interface Props {
  name: string;
  children: ReactNode;
  /** Whether it is open before anybody touched it. */
  open?: boolean;
  onOpen?: (open: boolean) => void;
}

export function Fold({ name, children, open = false, onOpen }: Props) {
  const id = useId();
  const now = useFolds((s) => s[name] ?? open);
  const turn = () => {
    useFolds.setState({ [name]: !now });
    onOpen?.(!now);
  };
  return (
    <section className="fold">
      <h3>
        <button type="button" aria-expanded={now} aria-controls={id} onClick={turn}>
          {name}
        </button>
      </h3>
      <div id={id} hidden={!now}>
        {now && children}
      </div>
    </section>
  );
}
