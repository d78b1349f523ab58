/** A limb's feet: the sole, what its contact does, and a second foot for walking upside down. */

import type { Limb } from "@/api/client";
import { editLeg } from "@/bench/store";
import { Switch } from "@/controls/Switch";
import { FieldForm } from "@/fields/FieldForm";
import { AlikeSwitch } from "./LegPanel";

export function FootPanel({ limb, index }: { limb: Limb; index: number }) {
  if (!limb.feet.length)
    return <p className="hint">{limb.name} has no foot: it is a head, an arm or a moving weight.</p>;
  const at = ["walker", "limbs", index, "feet"];
  return (
    <>
      <AlikeSwitch />
      <FieldForm of="Foot" at={[...at, 0]} fields={["sole", "contact"]} about={limb.name} />
      {limb.joints.length > 0 && (
        <Switch
          label="A second foot, to walk upside down"
          value={limb.feet.length > 1}
          onValue={(on) => {
            void editLeg(limb.name, (draft) => {
              const { feet } = draft.walker.limbs[index];
              if (!on) feet.splice(1);
              else
                feet.push({
                  name: "upper_foot",
                  side: "upper",
                  at_mm: [0, 0, 20],
                  sole: { kind: "point" },
                  contact: { kind: "planted" },
                });
            });
          }}
        />
      )}
      {limb.feet.length > 1 && (
        <FieldForm of="Foot" at={[...at, 1]} fields={["at_mm", "sole"]} about="Second foot" legend="Second foot" />
      )}
    </>
  );
}
