/** The middle of the bench: one main view with the station's overlay, and the other views beside it. */
import { lazy, memo, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { Link, useLocation } from "react-router";
import { useShallow } from "zustand/react/shallow";
import type { Motion, Project } from "@/api/client";
import { atRest } from "@/api/picture";
import { useBench, type ViewName } from "@/bench/state";
import type { Job, Station } from "@/stations/station";
import { Forward, Uphill } from "./Compass";
import { DimensionArrow, DimensionField, numbersApart } from "./Dimension";
import { gridStep } from "./Grid";
import { Handle } from "./Handle";
import { MatView } from "./MatView";
import { projection, VIEW_LABELS } from "./projection";
import { useFit } from "./useFit";

const Orbit = lazy(() => import("./Orbit"));

const VIEWS: ViewName[] = ["plan", "side", "front", "orbit"];
const SMALL_PAD = { left: 16, right: 16, top: 30, bottom: 26 };
const MAIN_PAD = { left: 64, right: 64, top: 58, bottom: 58 };
const SMALL_WIDTH = 190;
const JOB_WIDTH = 330;
const NARROWEST = 520;
const STACKED_HEIGHT = 300;

interface Props {
  station: Station;
  view: ViewName;
  project: Project;
  motion: Motion;
  /** The open motion is no gait: nothing on the drawing can be moved. */
  fixed: boolean;
  /** A job that is open in the middle. */
  job?: Job;
  onView: (view: ViewName) => void;
}

export function Stage({ station, view, project, motion, fixed, job, onView }: Props) {
  const ownMain = useBench(
    (s) => (!job || job.beside === true) && station.Main !== undefined && (station.mainFor?.(s.picture) ?? true),
  );
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 812, height: 598 });
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      setSize({ width: Math.floor(width), height: Math.floor(height) });
    });
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, []);

  // What is worked on keeps its room; small views give way first.
  const narrow = size.width < NARROWEST;
  const side = narrow ? 0 : job?.beside ? JOB_WIDTH : size.width < 680 ? 140 : SMALL_WIDTH;
  const width = Math.max(240, size.width - side);
  // What goes on beside the drawing goes on under it where there is no room beside.
  const stacked = narrow && job?.beside === true;
  const height = stacked ? STACKED_HEIGHT : size.height;
  const others = ownMain ? VIEWS.filter((v) => v !== "orbit") : VIEWS.filter((v) => v !== view);
  if (job && !job.beside)
    return (
      <main className="stage job" ref={box} aria-label={job.label}>
        <JobPage job={job} project={project} />
      </main>
    );
  return (
    <main className={stacked ? "stage stacked" : "stage"} ref={box} aria-label="Mat">
      {ownMain ? (
        <MainTable station={station} width={station.whole ? size.width : width} height={height} />
      ) : (
        <MainView
          key={view}
          station={station}
          view={view}
          project={project}
          motion={motion}
          fixed={fixed}
          width={width}
          height={height}
        />
      )}
      {job?.beside && (
        <aside className="job beside" style={{ width: stacked ? size.width : side }} aria-label={job.label}>
          <JobPage job={job} project={project} />
        </aside>
      )}
      {!station.whole && !job && side > 0 && (
        <div className="small-views" style={{ width: side }}>
          {others.map((v) => (
            <SmallView
              key={v}
              view={v}
              width={side}
              height={Math.floor(size.height / 3)}
              onView={ownMain ? undefined : onView}
            />
          ))}
        </div>
      )}
    </main>
  );
}

function JobPage({ job, project }: { job: Job; project: Project }) {
  const { search } = useLocation();
  const params = new URLSearchParams(search);
  params.delete("job");
  return (
    <section className="job-page" aria-labelledby="job-title">
      <header>
        <h2 id="job-title">{job.label}</h2>
        <Link to={`?${params}`}>Close</Link>
      </header>
      <Suspense fallback={null}>
        <job.Main project={project} />
      </Suspense>
    </section>
  );
}

function MainTable({ station, width, height }: { station: Station; width: number; height: number }) {
  const picture = useBench((s) => s.picture);
  const leg = useBench((s) => s.leg);
  if (!picture || !station.Main) return <Waiting width={width} height={height} />;
  return (
    <Suspense fallback={<Waiting width={width} height={height} />}>
      <station.Main picture={picture} leg={leg} width={width} height={height} />
    </Suspense>
  );
}

function MainView({
  station,
  view,
  project,
  motion,
  fixed,
  width,
  height,
}: Omit<Props, "onView"> & { width: number; height: number }) {
  const { walking, leg, mirrored, dragging, ghost } = useBench(
    useShallow((s) => ({
      // What a hand moves is drawn before it is judged.
      walking: s.drawn ?? s.picture,
      leg: s.leg,
      mirrored: s.mirrored,
      dragging: s.dragging,
      ghost: s.ghost,
    })),
  );
  const picture = useMemo(
    () => (walking && station.still ? (atRest(walking) ?? walking) : walking),
    [walking, station.still],
  );
  const round = picture && (station.round?.(project, picture, view) ?? null);
  const fit = useFit(view, picture, width, height, MAIN_PAD, dragging, round);
  if (!picture) return <Waiting width={width} height={height} />;
  const scene = { project, motion, picture, leg, mirrored, p: projection(view, fit) };
  const lines = dragging || fixed ? [] : (station.lines?.(scene) ?? []);
  const places = numbersApart(lines);
  const grips = fixed ? [] : (station.grips?.(scene) ?? []);
  if (view === "orbit") {
    return (
      <div className="main-view" style={{ width, height }}>
        <Suspense fallback={<Waiting width={width} height={height} />}>
          <Orbit picture={picture} leg={leg} width={width} height={height} />
        </Suspense>
        <p className="caption">Orbit, 50 mm grid. Drag to turn.</p>
      </div>
    );
  }
  return (
    <div className="main-view" style={{ width, height }}>
      <MatView
        main
        view={view}
        picture={picture}
        fit={fit}
        width={width}
        height={height}
        chosen={leg}
        margin={station.margin && picture.balance === "static"}
        traces={station.traces}
        ghost={ghost?.picture}
        onPick={station.onPick}
        label={`${VIEW_LABELS[view]} view of ${project.name}`}
      >
        {() => (
          <>
            <Suspense fallback={null}>{station.Overlay && !fixed && <station.Overlay scene={scene} />}</Suspense>
            {lines.map((line) => (
              <DimensionArrow key={line.id} line={line} />
            ))}
            {grips.map((grip) => (
              <Handle key={grip.id} grip={grip} view={view} fit={fit} />
            ))}
          </>
        )}
      </MatView>
      {lines.map((line) => (
        <DimensionField key={line.id} line={line} at={places.get(line.id)} width={width} height={height} />
      ))}
      <p className="caption">
        {VIEW_LABELS[view]}, {gridStep(fit)} mm grid
        {ghost && <span className="ghost-note"> · dashed: {ghost.title[0].toLowerCase() + ghost.title.slice(1)}</span>}
      </p>
      {view === "plan" && <Forward />}
      {view === "plan" && picture.data.plumb && <Uphill scene={scene} />}
    </div>
  );
}

interface SmallProps {
  view: ViewName;
  width: number;
  height: number;
  onView?: (view: ViewName) => void;
}

const SmallView = memo(function SmallView({ view, width, height, onView }: SmallProps) {
  const { picture, leg, dragging } = useBench(
    useShallow((s) => ({ picture: s.picture, leg: s.leg, dragging: s.dragging })),
  );
  const fit = useFit(view, picture, width, height, SMALL_PAD, dragging);
  const drawing = picture ? (
    <MatView
      view={view}
      picture={picture}
      fit={fit}
      width={width}
      height={height}
      chosen={leg}
      label={VIEW_LABELS[view]}
    />
  ) : (
    <span className="blank" style={{ width, height }} />
  );
  if (!onView) {
    return (
      <div className="small-view">
        <span className="small-label">{VIEW_LABELS[view]}</span>
        {drawing}
      </div>
    );
  }
  return (
    <button
      type="button"
      className="small-view"
      onClick={() => onView(view)}
      aria-label={`Make ${VIEW_LABELS[view]} the main view`}
    >
      <span className="small-label">{VIEW_LABELS[view]}</span>
      {drawing}
    </button>
  );
});

function Waiting({ width, height }: { width: number; height: number }) {
  const refusal = useBench((s) => s.refusal);
  return (
    <div className="waiting" style={{ width, height }} role="status">
      {refusal ?? "Solving the legs …"}
    </div>
  );
}
