import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import { useNavigate } from "react-router";
import { useCatalogue } from "@/api/catalogue";
import { client, type SavedWalker, told } from "@/api/client";
import Button from "@/controls/Button";
import { read, shown } from "@/look/number";

/** A walker from a starting shape: how many legs, which kind, how long. Everything else can be changed later. */
export function NewWalker({ onHide }: { onHide: () => void }) {
  const shapes = useCatalogue()?.shapes ?? [];
  const [shape, setShape] = useState("six_sprawled");
  const [name, setName] = useState("");
  const [length, setLength] = useState("220");
  const [fault, setFault] = useState<string | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: (leg_length_mm: number) =>
      told<SavedWalker>(
        client.POST("/api/walkers", {
          body: { shape, name: name.trim() || "New walker", leg_length_mm, project: null },
        }),
      ),
    onSuccess: async (walker) => {
      await queries.invalidateQueries({ queryKey: ["shelf"] });
      navigate(`/walkers/${walker.id}/frame`);
    },
    onError: (error) => setFault(error.message),
  });
  const chosen = shapes.find((s) => s.name === shape);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const value = read(length);
    const [low, high] = [chosen?.low_mm ?? 60, chosen?.high_mm ?? 600];
    if (value === null) setFault("Leg length: type a number of millimetres.");
    else if (value < low || value > high) setFault(`Leg length: from ${low} to ${high} mm, got ${shown(value, 1)}.`);
    else {
      setFault(null);
      make.mutate(value);
    }
  };
  return (
    <Modal show onHide={onHide} aria-labelledby="new-title" size="lg">
      <Form onSubmit={submit} noValidate>
        <Modal.Header closeButton>
          <Modal.Title id="new-title">New walker</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <fieldset className="shape-choice">
            <legend>Starting shape</legend>
            {[...new Set(shapes.map((s) => s.group))].map((group) => (
              <div key={group} className="shape-group" role="group" aria-label={group}>
                <h3>{group}</h3>
                {shapes
                  .filter((s) => s.group === group)
                  .map((s) => (
                    <Form.Check
                      key={s.name}
                      type="radio"
                      name="shape"
                      id={`shape-${s.name}`}
                      label={s.label}
                      checked={s.name === shape}
                      onChange={() => {
                        setShape(s.name);
                        setLength(String(s.usual_mm));
                      }}
                    />
                  ))}
              </div>
            ))}
          </fieldset>
          <Form.Group controlId="new-length" className="mb-3">
            <Form.Label>Leg length, hip to foot when straight, mm</Form.Label>
            <Form.Control
              value={length}
              inputMode="decimal"
              onChange={(event) => setLength(event.target.value)}
              isInvalid={fault !== null}
            />
          </Form.Group>
          <Form.Group controlId="new-name">
            <Form.Label>Name</Form.Label>
            <Form.Control
              value={name}
              maxLength={60}
              placeholder="New walker"
              onChange={(e) => setName(e.target.value)}
            />
          </Form.Group>
          {fault && (
            <p className="fault" role="alert">
              {fault}
            </p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-dark" onClick={onHide}>
            Leave it
          </Button>
          <Button type="submit" variant="dark" disabled={make.isPending}>
            Make it
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
