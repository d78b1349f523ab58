/** What feeds the servos, what stops them, what happens when the radio is silent, and what else takes pins. */
import type { Project } from "@/api/client";
import { edit } from "@/bench/store";
import { Remove } from "@/controls/Remove";
import { FieldForm } from "@/fields/FieldForm";
import { benchEdit } from "./bench";

export function Supply({ project }: { project: Project }) {
  const { banks, signals, stop_switch, fail_safe, boards } = project.electrics;
  return (
    <div className="supply">
      <section>
        <h3>Stop switch</h3>
        {stop_switch ? (
          <>
            <FieldForm of="StopSwitch" at={["electrics", "stop_switch"]} />
            <button
              type="button"
              className="link-button"
              onClick={() =>
                edit((draft) => {
                  draft.electrics.stop_switch = null;
                }, true)
              }
            >
              There is none
            </button>
            <p className="hint">Let out again, nothing moves until the inputs are at rest and it is armed.</p>
          </>
        ) : (
          <>
            <p className="caution">None is declared. Do not power up without one.</p>
            <button
              type="button"
              className="do"
              onClick={() =>
                edit((draft) => {
                  draft.electrics.stop_switch = { where: "", cuts: "servo_supply", effect: "holds", drop_mm: null };
                }, true)
              }
            >
              Declare it
            </button>
          </>
        )}
        <h3>Radio lost</h3>
        {fail_safe ? (
          <FieldForm of="FailSafe" at={["electrics", "fail_safe"]} />
        ) : (
          <button
            type="button"
            className="do"
            onClick={() =>
              edit((draft) => {
                draft.electrics.fail_safe = {
                  after_ms: 500,
                  finish_step: true,
                  effect: "pose",
                  supply_switched: false,
                };
              }, true)
            }
          >
            Decide what then
          </button>
        )}
      </section>
      <section>
        <h3>Supplies</h3>
        {banks.map((bank, n) => (
          <fieldset key={`bank ${n + 1}`} className="one-of-many">
            <FieldForm
              of="Bank"
              at={["electrics", "banks", n]}
              fields={[
                "name",
                "chemistry",
                "cells",
                "full_v",
                "empty_v",
                "cut_off_v",
                "regulated_v",
                "regulator_a",
                "fuse_a",
                "resistance_mohm",
                "capacity_mah",
                "feeds_logic",
                "ground_joined",
              ]}
              told={{
                cut_off_v: { usual: 6.6 },
                regulated_v: { usual: 6, unsaid: "the pack's own" },
                regulator_a: { usual: 10 },
                fuse_a: { usual: 15 },
                resistance_mohm: { usual: 80, unsaid: "30 mΩ a cell, assumed" },
                capacity_mah: { usual: 2200 },
              }}
              about={bank.name}
            />
            <HangsOn project={project} index={n} />
            <Remove
              label={`Remove ${bank.name}`}
              onRemove={() =>
                edit((draft) => {
                  draft.electrics.banks.splice(n, 1);
                }, true)
              }
            />
          </fieldset>
        ))}
        <button type="button" className="do" onClick={() => void benchEdit("bank")}>
          Add a supply
        </button>
      </section>
      <section>
        <h3>Inputs and lamps</h3>
        {signals.map((signal, n) => (
          <fieldset key={`signal ${n + 1}`} className="one-of-many">
            <FieldForm
              of="Signal"
              at={["electrics", "signals", n]}
              fields={["name", "does", "board", "pin", "at_start"]}
              told={{
                board: { choices: boards.map((b) => ({ name: b.name, label: b.name })), unsaid: "the controller" },
              }}
              about={signal.name}
              columns={2}
            />
            <Remove
              label={`Remove ${signal.name}`}
              onRemove={() =>
                edit((draft) => {
                  draft.electrics.signals.splice(n, 1);
                }, true)
              }
            />
          </fieldset>
        ))}
        <button
          type="button"
          className="do"
          onClick={() =>
            edit((draft) => {
              const names = new Set(draft.electrics.signals.map((s) => s.name));
              let name = "Input";
              for (let k = 2; names.has(name); k++) name = `Input ${k}`;
              draft.electrics.signals.push({ name, does: "input", board: null, pin: 0, at_start: "pulled" });
            }, true)
          }
        >
          Add an input or lamp
        </button>
      </section>
    </div>
  );
}

/** Which limbs' servos hang on a supply; with none chosen, all that hang on no other. */
function HangsOn({ project, index }: { project: Project; index: number }) {
  const bank = project.electrics.banks[index];
  const places = (limb: string) =>
    project.walker.drives
      .filter((d) => d.joints.some((j) => j.startsWith(`${limb}/`)))
      .flatMap((d) => d.servos.map((s) => s.name));
  const limbs = project.walker.limbs.map((l) => l.name).filter((l) => places(l).length);
  const toggle = (limb: string) =>
    edit((draft) => {
      const own = draft.electrics.banks[index];
      const all = places(limb);
      const on = all.every((p) => own.places.includes(p));
      for (const other of draft.electrics.banks) other.places = other.places.filter((p) => !all.includes(p));
      if (!on) own.places = [...own.places, ...all];
    }, true);
  return (
    <div className="hangs-on" role="group" aria-label={`Hangs on ${bank.name}`}>
      <span>{bank.places.length ? "Servos of" : "All servos that hang on no other; or those of"}</span>
      {limbs.map((limb) => (
        <button
          key={limb}
          type="button"
          className="chip"
          aria-pressed={places(limb).every((p) => bank.places.includes(p))}
          onClick={() => toggle(limb)}
        >
          {limb}
        </button>
      ))}
    </div>
  );
}
