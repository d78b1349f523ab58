/** A group on the mat that is painted anew with the playhead, outside of React's state. */
import { type RefObject, useEffect, useRef } from "react";
import { playhead } from "@/bench/playhead";
import type { Scene } from "@/stations/station";

export function usePainted(
  scene: Scene,
  draw: (group: SVGGElement, scene: Scene, time: number) => void,
): RefObject<SVGGElement | null> {
  const drawn = useRef<SVGGElement>(null);
  const current = useRef({ scene, draw });
  current.current = { scene, draw };
  useEffect(() => {
    const paint = (time: number) => {
      if (drawn.current) current.current.draw(drawn.current, current.current.scene, time);
    };
    return playhead.subscribe(paint);
  }, []);
  useEffect(() => {
    if (drawn.current) draw(drawn.current, scene, playhead.time);
  }, [scene, draw]);
  return drawn;
}
