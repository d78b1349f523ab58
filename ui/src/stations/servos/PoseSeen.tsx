/** The machine from the side as a pose or a walk begins: as every servo stands at its middle where none is said. */
import { useQuery } from "@tanstack/react-query";
import type { Project } from "@/api/client";
import { evaluateDraft } from "@/api/picture";
import { MatView } from "@/mat/MatView";
import { extent, fitTo } from "@/mat/projection";

const WIDE = 560;
const HIGH = 330;
const PAD = { left: 20, right: 20, top: 20, bottom: 20 };
const CENTRED = "Centred, drawn alone";

interface Props {
  project: Project;
  motion: string | null;
  folded: boolean;
}

export function PoseSeen({ project, motion, folded }: Props) {
  const { data: picture } = useQuery({
    queryKey: ["pose", motion, folded, project.walker, project.motions],
    queryFn: () => {
      if (motion !== null) return evaluateDraft(project, motion, "servos");
      const joints = folded ? (project.walker.folded?.joints ?? []) : [];
      const pose = { kind: "joint_pose", name: CENTRED, joints } as unknown as Project["motions"][number];
      const alone = {
        ...project,
        motions: [pose],
        controls: [],
        walked: [],
        start_up: { ...project.start_up, pose: null, fail_safe: null },
      };
      return evaluateDraft(alone, CENTRED, "servos");
    },
    gcTime: 30_000,
    retry: false,
  });
  if (!picture) return <div className="limb-turned" />;
  return (
    <div className="limb-turned pose-seen">
      <MatView
        view="side"
        picture={picture}
        fit={fitTo(extent("side", picture), WIDE, HIGH, PAD)}
        width={WIDE}
        height={HIGH}
        chosen=""
        time={0}
        label={`${motion ?? "Every servo at its middle"}, from the side`}
      />
    </div>
  );
}
