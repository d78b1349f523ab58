/** The boards with their channels; servos and whole legs are dragged on to them, or chosen by key. */
import { type DragEvent, useState } from "react";
import type { Project } from "@/api/client";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";
import { type BenchView, benchEdit, type Servo, useBenchView } from "./bench";

const KINDS = [
  { name: "pulse_board", label: "pulse board, 12 bits" },
  { name: "plain_pins", label: "plain pins" },
  { name: "bus", label: "bus of addressed servos" },
];

const DRAGGED = "text/plain";
/** After a limb's name: all of its servos. */
const WHOLE = "*";

export function Boards() {
  const project = useBench((s) => s.draft);
  return project && <ChannelMap project={project} />;
}

function ChannelMap({ project }: { project: Project }) {
  const view = useBenchView(project);
  const [said, setSaid] = useState("");
  const [taken, setTaken] = useState<string | null>(null);
  const act = async (...what: Parameters<typeof benchEdit>) => setSaid(await benchEdit(...what));
  const bare = view?.servos.filter((s) => s.board === null) ?? [];
  const boards = project.electrics.boards;
  const limbs = [...new Set(view?.servos.map((s) => s.joint.split("/")[0]))];
  return (
    <div className="boards">
      <div className="row-of-buttons">
        {KINDS.map((kind) => (
          <button
            key={kind.name}
            type="button"
            className="do"
            onClick={() => void act("board", { kind: kind.name as "bus" })}
          >
            + {kind.label}
          </button>
        ))}
        {boards.length > 0 && (
          <>
            <button type="button" className="do" onClick={() => void act("wire", { by: "leg" })}>
              Fill by leg
            </button>
            <button type="button" className="do" onClick={() => void act("wire", { by: "side" })}>
              Fill by side
            </button>
          </>
        )}
        {view?.servos.some((s) => s.item === null) && (
          <button type="button" className="do" onClick={() => void act("number")}>
            Number the servos
          </button>
        )}
      </div>
      <p className="said-line" role="status">
        {said ||
          (taken
            ? `${taken.replace(`/${WHOLE}`, ", all of it")}: choose a channel.`
            : boards.length
              ? "Drag a servo to a channel, or press it and then a channel; what was there changes places with it."
              : "No board yet: add what gives your servos their pulses or counts.")}
      </p>
      {boards.length > 0 && (
        <ul className="on-none" aria-label="Whole limbs">
          {limbs.map((limb) => (
            <li key={limb}>
              <button
                type="button"
                className={taken === `${limb}/${WHOLE}` ? "servo-chip limb taken" : "servo-chip limb"}
                draggable
                aria-pressed={taken === `${limb}/${WHOLE}`}
                onDragStart={(event) => event.dataTransfer.setData(DRAGGED, `${limb}/${WHOLE}`)}
                onClick={() => setTaken(taken === `${limb}/${WHOLE}` ? null : `${limb}/${WHOLE}`)}
              >
                all of {limb}
              </button>
            </li>
          ))}
        </ul>
      )}
      <ul className="on-none" aria-label="On no channel">
        {bare.map((servo) => (
          <li key={servo.place}>
            <Chip servo={servo} taken={taken} onTake={setTaken} />
          </li>
        ))}
      </ul>
      {view?.boards.map((board, n) => (
        <Board
          key={board.name}
          board={board}
          servos={view.servos}
          taken={taken}
          onTake={setTaken}
          onPut={(what, channel) => {
            setTaken(null);
            const [limb, whole] = what.split("/");
            if (whole === WHOLE) void act("put_limb", { limb, board: board.name, channel });
            else void act("put", { place: what, board: board.name, channel });
          }}
          onRemove={() =>
            edit((draft) => {
              draft.electrics.boards.splice(n, 1);
            }, true)
          }
          index={n}
        />
      ))}
    </div>
  );
}

function Chip({
  servo,
  taken,
  onTake,
}: {
  servo: Servo;
  taken: string | null;
  onTake: (place: string | null) => void;
}) {
  const state = servo.saw === "as_told" ? "well" : servo.saw && !servo.mended ? "stop" : "open";
  return (
    <button
      type="button"
      className={taken === servo.place ? "servo-chip taken" : "servo-chip"}
      draggable
      aria-pressed={taken === servo.place}
      onDragStart={(event: DragEvent) => event.dataTransfer.setData(DRAGGED, servo.place)}
      onClick={() => onTake(taken === servo.place ? null : servo.place)}
    >
      <i className={`mark ${state}`} aria-hidden="true" />
      {servo.place} <small>{servo.item ? `no. ${servo.number}` : ""}</small>
    </button>
  );
}

interface BoardProps {
  board: BenchView["boards"][number];
  servos: Servo[];
  taken: string | null;
  index: number;
  onTake: (place: string | null) => void;
  onPut: (place: string, channel: number) => void;
  onRemove: () => void;
}

function Board({ board, servos, taken, index, onTake, onPut, onRemove }: BoardProps) {
  const first = board.kind === "bus" ? 1 : 0;
  const used = Object.keys(board.places).map(Number);
  const last = board.kind === "bus" ? Math.max(first + 7, ...used) : board.channels - 1;
  const channels = Array.from({ length: last - first + 1 }, (_, k) => first + k);
  const called = board.kind === "bus" ? "address" : "channel";
  return (
    <section className={`board ${board.kind}`} aria-label={board.name}>
      <header>
        <h3>{board.name}</h3>
        <span>
          {KINDS.find((k) => k.name === board.kind)?.label}
          {board.address !== null && `, address ${board.address}`}
          {board.prescale !== null && `, prescaler ${board.prescale}, ${board.frequency_hz?.toFixed(2)} Hz`}
          {`, ${used.length} used`}
        </span>
        <BoardFields index={index} kind={board.kind} />
        <Remove label={`Remove ${board.name}`} onRemove={onRemove} />
      </header>
      <ol>
        {channels.map((channel) => {
          const servo = servos.find((s) => s.place === board.places[channel]);
          return (
            <li
              key={channel}
              onDragOver={(event) => event.preventDefault()}
              onDrop={(event) => {
                event.preventDefault();
                onPut(event.dataTransfer.getData(DRAGGED), channel);
              }}
            >
              <b>{channel}</b>
              {servo && (taken === null || taken === servo.place) ? (
                <Chip servo={servo} taken={taken} onTake={onTake} />
              ) : (
                <button
                  type="button"
                  className="free"
                  disabled={taken === null}
                  aria-label={`${board.name}, ${called} ${channel}${servo ? `, ${servo.place}` : ", free"}`}
                  onClick={() => taken && onPut(taken, channel)}
                >
                  {servo ? servo.place : ""}
                </button>
              )}
            </li>
          );
        })}
      </ol>
    </section>
  );
}

/** What is seen to on a board; of a kind, on those alone. */
const ATTENDED = [
  { field: "enable_off_at_start", label: "outputs off at start" },
  { field: "reads_back_first", label: "read back before torque", kind: "bus" },
  { field: "limits_written", label: "limits written in", kind: "bus" },
  { field: "overload_limp", label: "shuts off when overloaded", kind: "bus" },
] as const;

/** The same servo on a plain pin told so much, and on the board told until it stands alike, tells the oscillator's
 * error. */
const PIN_US = 1500;

/** What is not on the drawing of a board itself. */
function BoardFields({ index, kind }: { index: number; kind: string }) {
  const board = useBench((s) => s.draft?.electrics.boards[index]);
  if (!board) return null;
  const put = (
    change: (board: NonNullable<ReturnType<typeof useBench.getState>["draft"]>["electrics"]["boards"][number]) => void,
  ) => edit((draft) => change(draft.electrics.boards[index]), true);
  return (
    <>
      {ATTENDED.filter((a) => !("kind" in a) || a.kind === kind).map(({ field, label }) => (
        <label key={field} className="off-at-start">
          <input
            type="checkbox"
            className="form-check-input"
            checked={board[field]}
            onChange={(event) =>
              put((b) => {
                b[field] = event.target.checked;
              })
            }
          />
          {kind === "bus" && field === "enable_off_at_start" ? "torque off at start" : label}
        </label>
      ))}
      {kind === "pulse_board" && (
        <NumberBox
          label="A pin's 1500 µs is here"
          about={board.name}
          value={Math.round(PIN_US * (1 + board.oscillator_off_pct / 100) * 10) / 10}
          unit="µs"
          step={1}
          min={1200}
          max={1800}
          onValue={(v) =>
            put((b) => {
              b.oscillator_off_pct = Math.round((v / PIN_US - 1) * 1e4) / 100;
            })
          }
        />
      )}
      {kind === "pulse_board" && (
        <NumberBox
          label="Oscillator off by"
          about={board.name}
          value={board.oscillator_off_pct}
          unit="%"
          step={0.1}
          min={-20}
          max={20}
          onValue={(v) =>
            put((b) => {
              b.oscillator_off_pct = v;
            })
          }
        />
      )}
    </>
  );
}
