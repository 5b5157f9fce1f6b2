import { memo, useRef, type KeyboardEvent } from "react";
import { styled } from "styled-components";
import { potentialRgb, WIRE_RGB, type Hit, type Scene, type Shape } from "@rheonom/drawing/scene";

/** Inks of the drawing's roles on the screen; drawing/svg.ts has those for paper. */
const Svg = styled.svg`
  display: block;
  font-family: var(--sans);
  path,
  circle {
    fill: none;
    stroke-width: 1.6;
  }
  .conductor {
    stroke: var(--ink);
  }
  .outline {
    stroke: var(--ink);
    stroke-width: 1.4;
  }
  .outline.filled {
    fill: var(--surface);
  }
  .fill {
    fill: var(--ink);
    stroke: none;
  }
  .faint {
    stroke: var(--line-strong);
    stroke-width: 1;
  }
  .grid {
    stroke: var(--line);
    stroke-width: 1;
  }
  .sound {
    stroke: var(--sound);
    stroke-width: 2;
    stroke-dasharray: 6 4;
  }
  .measured {
    stroke: var(--measured);
    stroke-width: 2;
  }
  .measured.filled {
    fill: var(--measured);
  }
  .explained {
    stroke: var(--suspect);
    stroke-width: 2;
  }
  .suspect {
    stroke: var(--suspect);
    stroke-width: 12;
    stroke-dasharray: 2 4;
  }
  .selected {
    stroke: var(--accent);
    stroke-width: 2;
  }
  .lead-red {
    stroke: #7c1715;
    stroke-width: 1;
    fill: #b3261e;
  }
  .lead-black {
    stroke: var(--line-strong);
    stroke-width: 1;
    fill: #16191c;
  }
  text {
    font-size: 12px;
    fill: var(--ink);
  }
  text.label-strong {
    font-weight: 700;
    font-size: 13px;
  }
  text.label-mono {
    font-family: var(--mono);
    font-size: 11.5px;
  }
  text.label-value {
    font-weight: 700;
    font-size: 12.5px;
    paint-order: stroke;
    stroke: var(--surface);
    stroke-width: 3px;
  }
  text.label-faint {
    fill: var(--ink-2);
    font-size: 11.5px;
  }
  text.lead-text {
    fill: #fff;
    font-weight: 700;
  }
  .target rect {
    fill: transparent;
    stroke: none;
  }
  .target {
    outline: none;
  }
  .target:hover rect {
    fill: var(--accent);
    fill-opacity: 0.12;
  }
  .target:focus-visible rect {
    stroke: var(--focus);
    stroke-width: 3;
    fill: var(--accent);
    fill-opacity: 0.12;
  }
  g[role="button"] {
    cursor: pointer;
  }
`;

export interface SceneViewProps {
  readonly scene: Scene;
  /** Scale on the screen; 1 is 100 %. */
  readonly zoom?: number;
  readonly onPick?: (hit: Hit) => void;
}

/**
 * Draws a scene as SVG. Its targets are buttons with one tab stop: the arrow keys move between them, Enter picks.
 */
export const SceneView = memo(function SceneView({ scene, zoom = 1, onPick }: SceneViewProps) {
  const ref = useRef<SVGSVGElement>(null);
  const step = (event: KeyboardEvent): void => {
    const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
    if (by === undefined || ref.current === null) return;
    const targets = [...ref.current.querySelectorAll<SVGGElement>("g.target")];
    const at = targets.findIndex((t) => t === document.activeElement);
    targets.at((at + by + targets.length) % targets.length)?.focus();
    event.preventDefault();
  };
  const size = { width: scene.width * zoom, height: scene.height * zoom, viewBox: `${scene.left ?? 0} 0 ${scene.width} ${scene.height}` };
  const firstTarget = scene.shapes.findIndex((s) => s.t === "target");
  return (
    // The group only listens to keys that reach it from the buttons inside.

    <Svg ref={ref} {...size} role={onPick === undefined ? "img" : "group"} aria-label={scene.title} onKeyDown={step}>
      {scene.shapes.map((shape, i) => {
        if (shape.t !== "target") return <ShapeView key={i} shape={shape} />;
        if (onPick === undefined) return null;
        return <Target key={`${shape.hit.kind}:${shape.hit.id}`} shape={shape} tabIndex={i === firstTarget ? 0 : -1} onPick={onPick} />;
      })}
    </Svg>
  );
});

function Target({ shape, tabIndex, onPick }: { shape: Extract<Shape, { t: "target" }>; tabIndex: number; onPick: (hit: Hit) => void }) {
  const { x, y, w, h, hit } = shape;
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    onPick(hit);
  };
  return (
    <g
      className="target"
      role="button"
      tabIndex={tabIndex}
      aria-label={`${hit.id}: ${hit.name}`}
      data-hit={`${hit.kind}:${hit.id}`}
      onClick={() => onPick(hit)}
      onKeyDown={onKeyDown}
    >
      <rect x={x} y={y} width={w} height={h} rx={4} />
      <title>{hit.name}</title>
    </g>
  );
}

const ShapeView = memo(function ShapeView({ shape }: { shape: Exclude<Shape, { t: "target" }> }) {
  switch (shape.t) {
    case "path":
      return (
        <path
          d={shape.d}
          className={`${shape.role}${shape.filled === true ? " filled" : ""}`}
          style={{ strokeWidth: shape.width, strokeDasharray: shape.dash }}
        />
      );
    case "circle":
      return <circle cx={shape.x} cy={shape.y} r={shape.r} className={`${shape.role}${shape.filled === true ? " filled" : ""}`} />;
    case "text":
      return (
        <text x={shape.x} y={shape.y} className={shape.role} textAnchor={shape.anchor ?? "start"}>
          {shape.text}
        </text>
      );
    case "wire": {
      const edge = shape.potential === undefined ? "var(--line-strong)" : potentialRgb(shape.potential);
      const base = WIRE_RGB[shape.base] ?? "#888";
      return (
        <g>
          <path d={shape.d} style={{ stroke: edge, strokeWidth: 10.5 }} />
          <path d={shape.d} style={{ stroke: "var(--surface)", strokeWidth: 7.6 }} />
          {/* A thin rim keeps black on dark and white on light in sight. */}
          <path d={shape.d} style={{ stroke: "var(--rim)", strokeWidth: 6 }} />
          <path d={shape.d} style={{ stroke: base, strokeWidth: 4.2 }} />
          {shape.tracer === undefined ? null : (
            <path d={shape.d} style={{ stroke: WIRE_RGB[shape.tracer] ?? "#888", strokeWidth: 2, strokeDasharray: "7 6" }} />
          )}
        </g>
      );
    }
  }
});
