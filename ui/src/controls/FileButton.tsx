/** A button that asks for a file from the disk, and hands it on. */
import { type ReactNode, useRef } from "react";

interface Props {
  /** What the file is. */
  label: string;
  accept: string;
  onFile: (file: File) => void;
  className?: string;
  children: ReactNode;
}

export function FileButton({ label, accept, onFile, className = "do", children }: Props) {
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <button type="button" className={className} onClick={() => file.current?.click()}>
        {children}
      </button>
      <input
        ref={file}
        type="file"
        hidden
        accept={accept}
        aria-label={label}
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          // The same file may be asked for again.
          event.target.value = "";
          if (chosen) onFile(chosen);
        }}
      />
    </>
  );
}
