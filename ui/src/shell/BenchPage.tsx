import "./shell.css";
import { type PointerEvent, Suspense, useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { useShallow } from "zustand/react/shallow";
import { useCatalogue } from "@/api/catalogue";
import { client, isGait, type Project, type SavedWalker, told } from "@/api/client";
import { firstPose, gaitOf } from "@/bench/edits";
import { knowForms } from "@/bench/holding";
import { playhead } from "@/bench/playhead";
import { useBench, type ViewName } from "@/bench/state";
import { chooseMotion, closeWalker, dropGhost, edit, evaluate, openWalker } from "@/bench/store";
import { NoteDialog } from "@/controls/NoteDialog";
import { VIEW_LABELS } from "@/mat/projection";
import { Stage } from "@/mat/Stage";
import { stationCalled } from "@/stations";
import { fetchAhead } from "@/stations/later";
import { ChangeStrip } from "./ChangeStrip";
import { ConflictDialog } from "./ConflictDialog";
import { CycleStrip, PlayBox } from "./CycleStrip";
import { commandFor, commands, type DialogName, type Surroundings } from "./commands";
import { Fields } from "./Fields";
import { Findings } from "./Findings";
import { KeysDialog } from "./KeysDialog";
import { MotionsDialog } from "./MotionsDialog";
import { Palette } from "./Palette";
import { Rail } from "./Rail";
import { RevisionsDialog } from "./RevisionsDialog";
import { TopBar } from "./TopBar";
import { useHeldRevision } from "./useHeldRevision";

type Dialog = DialogName | null;

const STRIP = { low: 96, usual: 150, large: 250, high: 420 };

export function BenchPage() {
  const { walkerId, station: stationName } = useParams();
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const station = stationCalled(stationName);
  const asked = search.get("view");
  const view: ViewName = asked && asked in VIEW_LABELS ? (asked as ViewName) : station.view;
  const [failure, setFailure] = useState<string | null>(null);
  const [dialog, setDialog] = useState<Dialog>(null);
  const [strips, setStrips] = useState<Record<string, number>>({});
  const { draft, motion, leg, saved } = useBench(
    useShallow((s) => ({ draft: s.draft, motion: s.motion, leg: s.leg, saved: s.saved })),
  );
  const opened = saved?.id;
  const held = useHeldRevision();
  const catalogue = useCatalogue();
  const first = useRef(search);

  useEffect(() => {
    let live = true;
    told<SavedWalker>(client.GET("/api/walkers/{walker_id}", { params: { path: { walker_id: Number(walkerId) } } }))
      .then((walker) => {
        if (!live) return;
        openWalker(walker, first.current.get("motion"), first.current.get("leg"));
        const time = Number(first.current.get("t"));
        if (time > 0) {
          const stop = useBench.subscribe((s) => {
            if (!s.picture) return;
            stop();
            playhead.seek(time);
          });
        }
      })
      .catch((error: Error) => live && setFailure(error.message));
    return () => {
      live = false;
      closeWalker();
    };
  }, [walkerId]);

  // The address says where we are: walker, station, motion, leg, view, and the time once the playhead rests.
  // It is read from the window: the router's own copy lags behind while it renders, and a note written from
  // that copy would take back the one before it.
  const note = useCallback(
    (changes: Record<string, string | null>) => {
      const { pathname, search: old } = window.location;
      const params = new URLSearchParams(old);
      for (const [key, value] of Object.entries(changes)) {
        if (value === null) params.delete(key);
        else params.set(key, value);
      }
      if (pathname.startsWith("/walkers/") && params.toString() !== new URLSearchParams(old).toString())
        navigate(`${pathname}?${params}`, { replace: true });
    },
    [navigate],
  );
  useEffect(() => {
    if (motion && leg) note({ motion, leg });
  }, [motion, leg, note]);
  useEffect(() => {
    let timer = 0;
    const stop = playhead.subscribe((time) => {
      window.clearTimeout(timer);
      if (!playhead.playing && useBench.getState().picture)
        timer = window.setTimeout(() => note({ t: time > 0 ? String(Number(time.toFixed(6))) : null }), 400);
    });
    return () => {
      window.clearTimeout(timer);
      stop();
    };
  }, [note]);

  useEffect(() => {
    document.title = draft ? `${draft.name}, ${station.label} · Bustle` : "Bustle";
  }, [draft, station]);

  useEffect(() => {
    if (opened && stationName && stationName !== station.name)
      useBench.setState({ notice: `There is no station called ${stationName}; this is ${station.label}.` });
  }, [opened, stationName, station]);
  useEffect(() => {
    const was = useBench.getState().station;
    useBench.setState({ station: station.name });
    // At the frame the machine is drawn at rest, which is asked for with the plan.
    if (station.name === "frame" && was !== "frame" && useBench.getState().draft) evaluate();
  }, [station]);
  useEffect(() => {
    if (catalogue) knowForms(catalogue.forms);
  }, [catalogue]);
  useEffect(fetchAhead, []);
  useEffect(() => {
    // Work that is on no disk yet is not left behind unasked.
    const guard = (event: BeforeUnloadEvent) => {
      if (useBench.getState().saveState !== "saved") event.preventDefault();
    };
    window.addEventListener("beforeunload", guard);
    return () => window.removeEventListener("beforeunload", guard);
  }, []);

  const setView = useCallback((v: ViewName) => note({ view: v }), [note]);
  const around: Surroundings = {
    goTo: (name, job) => {
      const params = new URLSearchParams(window.location.search);
      params.delete("view");
      params.delete("job");
      if (job) params.set("job", job);
      navigate(`/walkers/${walkerId}/${name}?${params}`);
    },
    setView,
    open: setDialog,
    home: () => navigate("/"),
  };
  const latest = useRef(around);
  latest.current = around;
  const inConflict = useBench((s) => s.conflict !== null);
  const busy = dialog !== null || inConflict;
  useLayoutEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (busy) return;
      if (event.key === "Escape") {
        playhead.stop();
        dropGhost();
        return;
      }
      const command = commandFor(event, latest.current);
      if (!command) return;
      event.preventDefault();
      command.run();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [busy]);

  if (failure) {
    return (
      <main className="empty-page">
        <h1>This walker cannot be opened</h1>
        <p>{failure}</p>
        <a href="/">To the shelf</a>
      </main>
    );
  }
  if (!draft || !saved || !catalogue)
    return <main className="empty-page" aria-busy="true" aria-label="Opening the walker" />;
  const current = draft.motions.find((m) => m.name === motion);
  // Stations that turn a gait's numbers show the walker's first gait where the open motion is no gait.
  const gait = gaitOf(draft, motion);
  const elsewhere = !isGait(current) && station.gaitOnly;
  const job = station.jobs?.find((j) => j.name === search.get("job"));
  // A pose that stands still has no cycle to show, and neither has what a job shows in the strip's place.
  const still = isGait(current) && current.legs.every((l) => l.duty === 1);
  const size = station.strip ?? "usual";
  const strip = size === "none" || !current || still || (job && !job.beside) ? 0 : (strips[size] ?? STRIP[size]);
  return (
    <div className="bench" style={{ gridTemplateRows: `44px minmax(0, 1fr) ${strip}px` }}>
      <TopBar project={draft} onOpen={setDialog} />
      <Rail station={station} project={draft} motion={isGait(current) ? current : undefined} />
      {current && gait ? (
        <Stage
          station={station}
          view={view}
          project={draft}
          motion={gait}
          // At rest it is the same machine whatever it plays.
          fixed={!isGait(current) && !station.still}
          job={job}
          onView={setView}
        />
      ) : (
        <main className="stage waiting">
          <p>
            This walker has no pose to be drawn in yet.{" "}
            <button type="button" className="do" onClick={() => standUp(draft)}>
              Let it stand
            </button>
          </p>
        </main>
      )}
      <aside className="right" aria-label="Controls and findings">
        <section className="controls" aria-label={`${station.label} controls`}>
          <h2>{station.label}</h2>
          <Suspense fallback={null}>
            {gait && !elsewhere && <station.Controls project={draft} motion={gait} />}
          </Suspense>
          {elsewhere && current && (
            <>
              <p className="hint">
                {current.name} {MADE_OF[current.kind ?? ""] ?? "is made of other motions or of poses."}
              </p>
              <button type="button" className="do" onClick={() => around.goTo("motions")}>
                Set it at Motions
              </button>
              <Suspense fallback={null}>{station.Told && <station.Told project={draft} />}</Suspense>
            </>
          )}
        </section>
        <ChangeStrip />
        <Findings />
      </aside>
      {strip > 0 && current && (
        <section className="strip" aria-label="Cycle" style={{ height: strip }}>
          <StripEdge height={strip} onHeight={(height) => setStrips({ ...strips, [size]: height })} />
          <PlayBox />
          <CycleStrip motion={isGait(current) && !current.pauses?.length ? current : null} height={strip - 10} />
        </section>
      )}
      {held && (
        <section className="held" aria-live="polite">
          <h3>{held.title}</h3>
          {held.fields.length > 0 && <Fields fields={held.fields.slice(0, 12)} before="Then" after="Now" />}
        </section>
      )}
      {dialog === "keys" && <KeysDialog commands={commands(around)} onHide={() => setDialog(null)} />}
      {dialog === "palette" && <Palette commands={commands(around)} onHide={() => setDialog(null)} />}
      {dialog === "revisions" && <RevisionsDialog onHide={() => setDialog(null)} />}
      {dialog === "note" && (
        <NoteDialog name={draft.name} note={draft.note} onKeep={putNote} onHide={() => setDialog(null)} />
      )}
      {dialog === "motions" && <MotionsDialog onHide={() => setDialog(null)} />}
      <ConflictDialog />
    </div>
  );
}

/** Of motions that are no gaits, why there are no strides or phases to turn. */
const MADE_OF: Record<string, string> = {
  swings: "swings its joints to and fro: how far and when is said of each.",
};

function standUp(project: Project): void {
  const pose = firstPose(project);
  edit((draft) => {
    draft.motions.push(pose);
  }, true);
  chooseMotion(pose.name);
}

function putNote(text: string): void {
  edit((draft) => {
    draft.note = text;
  }, true);
}

function StripEdge({ height, onHeight }: { height: number; onHeight: (height: number) => void }) {
  const start = useRef<[number, number] | null>(null);
  const put = (value: number) => onHeight(Math.min(STRIP.high, Math.max(STRIP.low, Math.round(value))));
  return (
    <hr
      className="strip-edge"
      tabIndex={0}
      aria-orientation="horizontal"
      aria-label="Height of the cycle strip"
      aria-valuenow={height}
      aria-valuemin={STRIP.low}
      aria-valuemax={STRIP.high}
      onPointerDown={(event: PointerEvent<HTMLHRElement>) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        start.current = [event.clientY, height];
      }}
      onPointerMove={(event) => start.current && put(start.current[1] + start.current[0] - event.clientY)}
      onPointerUp={() => {
        start.current = null;
      }}
      onKeyDown={(event) => {
        const by = { ArrowUp: 10, ArrowDown: -10 }[event.key];
        if (by) {
          event.preventDefault();
          put(height + by);
        }
      }}
    />
  );
}
