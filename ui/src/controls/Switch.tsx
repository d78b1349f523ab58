/** Yes or no. */
import { useId } from "react";
import Form from "react-bootstrap/Form";

interface Props {
  label: string;
  about?: string;
  value: boolean;
  onValue: (value: boolean) => void;
}

export function Switch({ label, about, value, onValue }: Props) {
  const id = useId();
  return (
    <Form.Check
      id={id}
      type="switch"
      label={
        <>
          {about && <span className="visually-hidden">{about}, </span>}
          {label}
        </>
      }
      checked={value}
      onChange={(event) => onValue(event.target.checked)}
    />
  );
}
