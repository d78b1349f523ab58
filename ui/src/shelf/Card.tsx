import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import pLimit from "p-limit";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { client, download, fetched, type SavedWalker, type Schemas, told } from "@/api/client";
import { evaluateSaved, type Picture, sampleAt } from "@/api/picture";
import Button from "@/controls/Button";
import { NoteDialog } from "@/controls/NoteDialog";
import { isoTime, mass } from "@/look/number";
import { Grid } from "@/mat/Grid";
import { paint } from "@/mat/paint";
import { extent, fitTo, projection } from "@/mat/projection";
import { Walker } from "@/mat/Walker";

const WIDTH = 380;
const HEIGHT = 230;
const PAD = { left: 24, right: 24, top: 22, bottom: 22 };
// A browser holds six connections to a server: judging a whole shelf leaves some for what the hand asks for.
const inTurn = pLimit(2);

/** namesake: another walker has the same name, so that this one says which it is. */
export function Card({ walker, namesake }: { walker: Schemas["ShelfEntry"]; namesake?: boolean }) {
  const queries = useQueryClient();
  const [walking, setWalking] = useState(false);
  const again = () => queries.invalidateQueries({ queryKey: ["shelf"] });
  const path = { walker_id: walker.id };
  const copy = useMutation({
    mutationFn: () => told<void>(client.POST("/api/walkers/{walker_id}/copies", { params: { path } })),
    onSuccess: again,
  });
  const away = useMutation({
    mutationFn: () => told<void>(client.PUT("/api/walkers/{walker_id}/archive", { params: { path } })),
    onSuccess: again,
  });
  const back = useMutation({
    mutationFn: () => told<void>(client.DELETE("/api/walkers/{walker_id}/archive", { params: { path } })),
    onSuccess: again,
  });
  const [noting, setNoting] = useState(false);
  const note = useMutation({
    mutationFn: async (text: string) => {
      const now = await told<SavedWalker>(client.GET("/api/walkers/{walker_id}", { params: { path } }));
      const body = { parent: now.number, project: { ...now.project, note: text }, note: "" };
      await told<SavedWalker>(client.POST("/api/walkers/{walker_id}/revisions", { params: { path }, body }));
    },
    onSuccess: again,
  });
  const write = useMutation({ mutationFn: async () => download(await fetched(`/api/walkers/${walker.id}/file`)) });
  const picture = useQuery({
    queryKey: ["shelf-plan", walker.id, walker.revision],
    queryFn: () => evaluateSaved(walker.id),
    enabled: walker.motions.length > 0 && !walker.unreadable,
    staleTime: Number.POSITIVE_INFINITY,
  }).data;
  const judged = useQuery({
    queryKey: ["shelf-verdict", walker.id, walker.revision],
    queryFn: ({ signal }) =>
      inTurn(() =>
        told<Schemas["Verdict"]>(client.GET("/api/walkers/{walker_id}/verdict", { params: { path }, signal })),
      ),
    enabled: !walker.unreadable,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const fault = copy.error ?? note.error ?? away.error ?? back.error ?? write.error ?? judged.error;
  const state = !judged.data
    ? ""
    : judged.data.stops
      ? "stop"
      : judged.data.warns
        ? "warn"
        : judged.data.unjudged
          ? "open"
          : "well";
  const keeping = (
    <>
      <Button size="sm" variant="outline-dark" onClick={() => write.mutate()}>
        Save as file<span className="visually-hidden"> {walker.name}</span>
      </Button>
      <Button size="sm" variant="outline-dark" onClick={() => (walker.archived ? back : away).mutate()}>
        {walker.archived ? "Put back" : "Put away"}
        <span className="visually-hidden"> {walker.name}</span>
      </Button>
    </>
  );
  if (walker.unreadable)
    return (
      <li className="card-walker">
        <Drawing walking={false} />
        <h2>{walker.name}</h2>
        <p className="verdict">
          <i className="mark stop" aria-hidden="true" />
          This version of Bustle cannot read it
        </p>
        <p className="facts">
          Revision {walker.revision}: {walker.unreadable}. Nothing of it is lost; take its file to the version that
          wrote it.
        </p>
        <div className="card-actions">{keeping}</div>
        {fault && <p role="alert">{fault.message}</p>}
      </li>
    );
  const wake = { onFocus: () => setWalking(true), onBlur: () => setWalking(false) };
  return (
    <li className="card-walker" onPointerEnter={() => setWalking(true)} onPointerLeave={() => setWalking(false)}>
      <Link to={`/walkers/${walker.id}/balance`} {...wake}>
        <Drawing picture={picture} walking={walking} />
        <h2>
          {walker.name}
          {namesake && (
            <small>
              {" "}
              no. {walker.id}, saved {isoTime(walker.saved_at)}
            </small>
          )}
        </h2>
      </Link>
      <p className="verdict">
        <i className={`mark ${state}`} aria-hidden="true" />
        {judged.data?.verdict ?? (judged.error ? "Not judged" : "Judging …")}
      </p>
      <p className="facts">
        {walker.legs} legs · {mass(walker.mass_g)} · {walker.motions.length} motion
        {walker.motions.length === 1 ? "" : "s"} · revision {walker.revision}
      </p>
      {walker.note && <p className="card-note">{walker.note}</p>}
      <div className="card-actions">
        <Button size="sm" variant="outline-dark" onClick={() => setNoting(true)}>
          Note<span className="visually-hidden"> on {walker.name}</span>
        </Button>
        <Button size="sm" variant="outline-dark" onClick={() => copy.mutate()}>
          Duplicate<span className="visually-hidden"> {walker.name}</span>
        </Button>
        {keeping}
      </div>
      {noting && (
        <NoteDialog
          name={walker.name}
          note={walker.note}
          onKeep={(text) => note.mutate(text)}
          onHide={() => setNoting(false)}
        />
      )}
      {fault && <p role="alert">{fault.message}</p>}
    </li>
  );
}

function Drawing({ picture, walking }: { picture?: Picture; walking: boolean }) {
  const root = useRef<SVGSVGElement>(null);
  const fit = picture
    ? fitTo(extent("orbit", picture), WIDTH, HEIGHT, PAD)
    : { scale: 0.6, x: WIDTH / 2, y: HEIGHT / 2 };
  useEffect(() => {
    if (!picture || !root.current) return;
    const p = projection("orbit", fit);
    paint(root.current, picture, 0, p);
    if (!walking || window.matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    let frame = 0;
    const started = performance.now();
    const tick = (now: number) => {
      const time = ((now - started) / 1000) % picture.cycle_s;
      if (root.current) paint(root.current, picture, sampleAt(picture, time), p);
      frame = requestAnimationFrame(tick);
    };
    frame = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frame);
  }, [picture, walking, fit]);
  return (
    <svg ref={root} className="m-view" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden="true">
      <Grid fit={fit} />
      {picture && <Walker legs={picture.legs} />}
    </svg>
  );
}
