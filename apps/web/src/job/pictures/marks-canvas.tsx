import { useEffect, useRef, useState } from "react";
import type Konva from "konva";
import { Arrow, Ellipse, Group, Image, Layer, Stage, Text } from "react-konva";
import { picturePath } from "@rheonom/contract/shop";
import type { PictureMark } from "@rheonom/core/job";
import { HEAD_UNITS, INK, LINE_UNITS, RIM, RIM_UNITS, WORDS_UNITS } from "@rheonom/drawing/picture-marks";
import type { Pictured } from "./picture-view.tsx";
import { drawnMark, moved, withMark, type Layer as Marks, type MarkTool, type Point } from "./marks-model.ts";

/** Share of the picture that an arrow key moves by. */
export interface MarksCanvasProps {
  readonly picture: Pictured;
  readonly layer: Marks;
  readonly tool: MarkTool;
  /** Words to set. */
  readonly text: string;
  /** Size on the screen, px. */
  readonly width: number;
  readonly height: number;
  readonly onLayer: (layer: Marks) => void;
}

/** The picture and its marks on a canvas: a drag makes a mark, a tap on one chooses it, dragging the chosen one moves it. */
export function MarksCanvas({ picture, layer, tool, text, width, height, onLayer }: MarksCanvasProps) {
  const image = useImage(picturePath(picture.hash, "whole"));
  const [from, setFrom] = useState<Point | undefined>(undefined);
  const [to, setTo] = useState<Point | undefined>(undefined);
  const stage = useRef<Konva.Stage>(null);
  const pointer = (): Point | undefined => {
    const p = stage.current?.getPointerPosition();
    return p === null || p === undefined ? undefined : [p.x / width, p.y / height];
  };
  const begin = (e: Konva.KonvaEventObject<PointerEvent>): void => {
    // On a mark: it is chosen, and dragged by the canvas itself.
    if (e.target.findAncestor(".mark", true) !== undefined && e.target.findAncestor(".mark", true) !== null) return;
    const p = pointer();
    setFrom(p);
    setTo(p);
  };
  const end = (): void => {
    if (from !== undefined && to !== undefined) {
      const made = drawnMark(tool, from, to, text);
      onLayer(made === undefined ? { ...layer, chosen: undefined } : withMark(layer, made));
    }
    setFrom(undefined);
    setTo(undefined);
  };
  const draft = from === undefined || to === undefined ? undefined : drawnMark(tool, from, to, text);
  return (
    <Stage
      ref={stage}
      width={width}
      height={height}
      onPointerDown={begin}
      onPointerMove={() => from !== undefined && setTo(pointer() ?? to)}
      onPointerUp={end}
      style={{ touchAction: "none", cursor: "crosshair" }}
    >
      <Layer listening={false}>{image === undefined ? null : <Image image={image} width={width} height={height} />}</Layer>
      <Layer>
        {layer.marks.map((mark, i) => (
          <Group
            key={i}
            name="mark"
            draggable
            onPointerDown={() => onLayer({ ...layer, chosen: i })}
            onDragEnd={(e) => {
              const { x, y } = e.target.position();
              e.target.position({ x: 0, y: 0 });
              onLayer(moved({ ...layer, chosen: i }, x / width, y / height));
            }}
          >
            <MarkShape mark={mark} width={width} height={height} isChosen={i === layer.chosen} />
          </Group>
        ))}
        {draft === undefined ? null : <MarkShape mark={draft} width={width} height={height} isChosen={false} />}
      </Layer>
    </Stage>
  );
}

/** A mark as it stands on paper too: its rim, then its ink. The chosen one is dashed. */
function MarkShape({ mark, width, height, isChosen }: { mark: PictureMark; width: number; height: number; isChosen: boolean }) {
  const unit = Math.max(width, height) / 100;
  const strokes = [
    { stroke: RIM, strokeWidth: (LINE_UNITS + RIM_UNITS) * unit },
    { stroke: INK, strokeWidth: LINE_UNITS * unit, ...(isChosen ? { dash: [2 * unit, unit] } : {}) },
  ];
  // A finger is broader than a line.
  const hit = { hitStrokeWidth: 24 };
  switch (mark.kind) {
    case "arrow": {
      const points = [mark.from[0] * width, mark.from[1] * height, mark.to[0] * width, mark.to[1] * height];
      const head = HEAD_UNITS * unit;
      return strokes.map((s, i) => (
        <Arrow
          key={i}
          points={points}
          pointerLength={0.9 * head}
          pointerWidth={0.85 * head}
          fill={s.stroke}
          lineCap="round"
          {...s}
          {...hit}
        />
      ));
    }
    case "circle":
      return strokes.map((s, i) => (
        <Ellipse
          key={i}
          x={mark.at[0] * width}
          y={mark.at[1] * height}
          radiusX={mark.radii[0] * width}
          radiusY={mark.radii[1] * height}
          {...s}
          {...hit}
        />
      ));
    case "words": {
      const size = WORDS_UNITS * unit;
      const set = { x: mark.at[0] * width, y: mark.at[1] * height - 0.85 * size, text: mark.text, fontSize: size, fontStyle: "bold" };
      return (
        <>
          <Text {...set} fill={RIM} stroke={RIM} strokeWidth={RIM_UNITS * unit} lineJoin="round" />
          <Text {...set} fill={INK} textDecoration={isChosen ? "underline" : ""} />
        </>
      );
    }
  }
}

function useImage(address: string): HTMLImageElement | undefined {
  const [image, setImage] = useState<HTMLImageElement | undefined>(undefined);
  useEffect(() => {
    const made = new window.Image();
    made.onload = () => setImage(made);
    made.src = address;
    return () => void (made.onload = null);
  }, [address]);
  return image;
}
