/** The walker in the round. Loaded on demand; drawn when something moves, not all the time. */
import { Canvas, useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { type Picture, sampleAt } from "@/api/picture";
import { playhead } from "@/bench/playhead";

interface Props {
  picture: Picture;
  leg: string;
  width: number;
  height: number;
}

const CHALK = "#f5f1e4";
const MARIGOLD = "#f0a33a";

export default function Orbit({ picture, leg, width, height }: Props) {
  return (
    <div className="orbit" style={{ width, height }} role="img" aria-label="The walker in the round; drag to turn it">
      <Canvas frameloop="demand" dpr={[1, 1.5]} camera={{ fov: 36, near: 10, far: 6000, up: [0, 0, 1] }}>
        <Scene picture={picture} leg={leg} />
      </Canvas>
    </div>
  );
}

function Scene({ picture, leg }: { picture: Picture; leg: string }) {
  const { camera, gl, invalidate, scene } = useThree();
  const reach = useMemo(() => size(picture), [picture]);
  const placed = useRef(false);
  const current = useRef(picture);
  current.current = picture;

  useEffect(() => {
    scene.background = new THREE.Color("#1f4a43");
    if (!placed.current) camera.position.set(-reach * 2.1, -reach * 2.9, reach * 2.1);
    placed.current = true;
    const controls = new OrbitControls(camera, gl.domElement);
    controls.target.set(0, 0, reach * 0.16);
    controls.maxPolarAngle = Math.PI / 2 - 0.03;
    controls.addEventListener("change", () => invalidate());
    controls.update();
    return () => controls.dispose();
  }, [camera, gl, invalidate, scene, reach]);

  const parts = useMemo(() => build(picture, leg), [picture, leg]);
  useEffect(() => {
    const stop = playhead.subscribe((time) => {
      pose(parts, picture, sampleAt(picture, time));
      invalidate();
    });
    return stop;
  }, [parts, picture, invalidate]);

  return (
    <>
      <hemisphereLight args={["#ffffff", "#24443d", 1.7]} />
      <directionalLight position={[-300, -400, 700]} intensity={1.5} />
      <gridHelper
        args={[Math.ceil((reach * 6) / 50) * 50, Math.ceil((reach * 6) / 50), "#3b6c63", "#2d5f56"]}
        rotation={[Math.PI / 2, 0, 0]}
      />
      <primitive object={parts.root} />
    </>
  );
}

function size(picture: Picture): number {
  let most = 50;
  for (const value of picture.data.points) most = Math.max(most, Math.abs(value));
  return most;
}

interface Parts {
  root: THREE.Group;
  links: THREE.Mesh[][];
  feet: THREE.Mesh[];
  frame: THREE.LineSegments;
  box: THREE.Mesh;
  edges: number[];
  polygon: THREE.Mesh;
  soles: THREE.LineSegments;
  rims: number[];
}

/** Pairs of points that the outlines of soles and wheels join. */
function rimsOf({ soles }: Picture): number[] {
  let first = 0;
  return soles.flatMap((count) => {
    const from = first;
    first += count;
    return Array.from({ length: count }, (_, k) => [from + k, from + ((k + 1) % count)]).flat();
  });
}

/** Pairs of points of the frame that edges join, and triples that faces have, section by section. */
function frameParts(picture: Picture): { edges: number[]; faces: number[] } {
  const edges: number[] = [];
  const faces: number[] = [];
  for (const { points } of picture.sections) {
    const [from, to] = points;
    const rim = (to - from) / 2;
    for (let k = 0; k < rim; k++) {
      const [low, next] = [from + k, from + ((k + 1) % rim)];
      edges.push(low, next, low + rim, next + rim);
      if (k % Math.max(1, rim / 4) === 0) edges.push(low, low + rim);
      faces.push(low, next, next + rim, low, next + rim, low + rim);
      if (k > 0 && k + 1 < rim) faces.push(from, low, next, from + rim, low + rim, next + rim);
    }
  }
  return { edges, faces };
}

function build(picture: Picture, chosen: string): Parts {
  const root = new THREE.Group();
  const thick = size(picture) / 46;
  const rod = new THREE.CylinderGeometry(thick, thick, 1, 12);
  const ball = new THREE.SphereGeometry(thick * 1.7, 16, 12);
  const links: THREE.Mesh[][] = [];
  const feet: THREE.Mesh[] = [];
  for (const leg of picture.legs) {
    const material = new THREE.MeshStandardMaterial({ color: leg.name === chosen ? MARIGOLD : CHALK, roughness: 0.8 });
    links.push(Array.from({ length: leg.points[1] - leg.points[0] - 1 }, () => new THREE.Mesh(rod, material)));
    feet.push(new THREE.Mesh(leg.round_mm ? new THREE.SphereGeometry(leg.round_mm, 24, 16) : ball, material.clone()));
    root.add(...links[links.length - 1], feet[feet.length - 1]);
  }
  const edges = new THREE.BufferGeometry();
  const joined = frameParts(picture);
  edges.setAttribute("position", new THREE.BufferAttribute(new Float32Array(joined.edges.length * 3), 3));
  const frame = new THREE.LineSegments(edges, new THREE.LineBasicMaterial({ color: CHALK }));
  const area = new THREE.BufferGeometry();
  area.setAttribute("position", new THREE.BufferAttribute(new Float32Array((picture.width.polygon / 2) * 9), 3));
  const polygon = new THREE.Mesh(
    area,
    new THREE.MeshBasicMaterial({
      color: CHALK,
      transparent: true,
      opacity: 0.16,
      side: THREE.DoubleSide,
      depthWrite: false,
    }),
  );
  const faces = new THREE.BufferGeometry();
  faces.setAttribute("position", new THREE.BufferAttribute(new Float32Array(picture.width.frame), 3));
  faces.setIndex(joined.faces);
  const box = new THREE.Mesh(
    faces,
    new THREE.MeshBasicMaterial({ color: "#16382f", transparent: true, opacity: 0.55, side: THREE.DoubleSide }),
  );
  const rims = rimsOf(picture);
  const outlines = new THREE.BufferGeometry();
  outlines.setAttribute("position", new THREE.BufferAttribute(new Float32Array(rims.length * 3), 3));
  const soles = new THREE.LineSegments(outlines, new THREE.LineBasicMaterial({ color: CHALK }));
  for (const part of [frame, polygon, box, soles]) part.frustumCulled = false;
  root.add(frame, polygon, box, soles);
  return { root, links, feet, frame, box, edges: joined.edges, polygon, soles, rims };
}

/** Lays lines between the points of one instant, two by two. */
function join(lines: THREE.LineSegments, pairs: number[], points: Float32Array, first: number): void {
  const ends = lines.geometry.getAttribute("position") as THREE.BufferAttribute;
  for (const [i, point] of pairs.entries()) {
    const at = first + point * 3;
    ends.setXYZ(i, points[at], points[at + 1], points[at + 2]);
  }
  ends.needsUpdate = true;
}

const UP = new THREE.Vector3(0, 1, 0);

function pose(parts: Parts, picture: Picture, sample: number): void {
  const { data, width } = picture;
  const base = sample * width.points;
  const a = new THREE.Vector3();
  const b = new THREE.Vector3();
  for (const [n, leg] of picture.legs.entries()) {
    for (const [k, mesh] of parts.links[n].entries()) {
      a.fromArray(data.points, base + (leg.points[0] + k) * 3);
      b.fromArray(data.points, base + (leg.points[0] + k + 1) * 3);
      mesh.position.copy(a).add(b).multiplyScalar(0.5);
      b.sub(a);
      mesh.scale.set(1, Math.max(0.01, b.length()), 1);
      mesh.quaternion.setFromUnitVectors(UP, b.normalize());
    }
    parts.feet[n].position.fromArray(data.points, base + (leg.points[1] - 1) * 3);
    const down = data.contact[sample * picture.legs.length + n] > 0.5;
    parts.feet[n].scale.setScalar(down || leg.round_mm ? 1 : 0.65);
  }
  const first = sample * width.frame;
  join(parts.frame, parts.edges, data.frame, first);
  join(parts.soles, parts.rims, data.soles, sample * width.soles);
  const corners = parts.box.geometry.getAttribute("position") as THREE.BufferAttribute;
  corners.set(data.frame.subarray(first, first + width.frame));
  corners.needsUpdate = true;
  const count = data.polygon_count[sample];
  const area = parts.polygon.geometry.getAttribute("position") as THREE.BufferAttribute;
  const start = sample * width.polygon;
  let i = 0;
  for (let k = 1; k + 1 < count; k++)
    for (const corner of [0, k, k + 1])
      area.setXYZ(i++, data.polygon[start + corner * 2], data.polygon[start + corner * 2 + 1], 0.5);
  parts.polygon.geometry.setDrawRange(0, i);
  area.needsUpdate = true;
}
