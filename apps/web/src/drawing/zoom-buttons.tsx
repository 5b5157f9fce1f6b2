import { ZoomIn, ZoomOut } from "lucide-react";
import { Button } from "../ui/button.tsx";
import type { Zoom } from "./use-zoom.ts";

/** Smaller, as large as fits, larger. */
export function ZoomButtons({ zoom }: { zoom: Zoom }) {
  return (
    <>
      <Button onPress={zoom.smaller} aria-label="Smaller">
        <ZoomOut size={18} aria-hidden />
      </Button>
      <Button onPress={zoom.fit} aria-label={`Fit the room; drawn at ${Math.round(zoom.zoom * 100)} %`}>
        {Math.round(zoom.zoom * 100)} %
      </Button>
      <Button onPress={zoom.larger} aria-label="Larger">
        <ZoomIn size={18} aria-hidden />
      </Button>
    </>
  );
}
