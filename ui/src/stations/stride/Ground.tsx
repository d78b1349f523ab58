/** What the feet meet: an uneven floor, carpet, something to step over; and how far a foot may search for the ground. */
import { useBench } from "@/bench/state";
import { LeverSlider } from "@/controls/LeverSlider";
import { FieldForm } from "@/fields/FieldForm";

export function Ground() {
  const obstacle = useBench((s) => s.draft?.floor.obstacle_mm !== null);
  const slopes = useBench((s) => (s.draft?.floor.slope_deg ?? 0) > 0);
  return (
    <>
      <h3>Floor</h3>
      <FieldForm
        of="Floor"
        at={["floor"]}
        fields={[
          "slope_deg",
          ...(slopes ? ["uphill_deg"] : []),
          "unevenness_mm",
          "obstacle_mm",
          ...(obstacle ? ["obstacle_at"] : []),
          "pile_mm",
        ]}
        told={{
          unevenness_mm: { usual: 4, unsaid: "not known", step: 1 },
          obstacle_mm: { usual: 15, unsaid: "none", step: 1 },
          obstacle_at: { step: 0.05 },
          pile_mm: { step: 1 },
        }}
      />
      <FieldForm
        of="Limits"
        at={["limits"]}
        fields={["lean_deg", "jolt_share"]}
        told={{ jolt_share: { step: 0.05 } }}
      />
      <LeverSlider lever="search" />
    </>
  );
}
