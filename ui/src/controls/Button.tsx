/** React-Bootstrap's button under a plain type: its own is a union over every element there is, 3D ones included. */
import type { ReactElement } from "react";
import Bootstrap, { type ButtonProps } from "react-bootstrap/Button";

const Button = Bootstrap as unknown as (props: ButtonProps) => ReactElement;

export default Button;
