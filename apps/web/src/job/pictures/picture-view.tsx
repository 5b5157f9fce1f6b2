import { useState } from "react";
import { styled } from "styled-components";
import { picturePath } from "@rheonom/contract/shop";
import type { PictureMark } from "@rheonom/core/job";
import { marksSvg } from "@rheonom/drawing/picture-marks";

const Box = styled.span`
  position: relative;
  display: block;
  background: var(--sunken);
  border-radius: var(--radius);
  overflow: hidden;
  img {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    object-fit: contain;
  }
`;
const Missing = styled.span`
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
  padding: var(--s2);
  text-align: center;
  color: var(--ink-2);
  font-size: 0.875rem;
`;

export interface Pictured {
  readonly hash: string;
  readonly width: number;
  readonly height: number;
  readonly marks: readonly PictureMark[];
}

/** A picture with its layer of marks, as wide as its place. A whole one is loaded at once: it may be printed. */
export function PictureView({ picture, size, alt }: { picture: Pictured; size: "whole" | "thumbnail"; alt: string }) {
  const { hash, width, height, marks } = picture;
  const [isMissing, setMissing] = useState(false);
  return (
    <Box style={{ aspectRatio: `${width} / ${height}` }}>
      {isMissing ? (
        <Missing>This picture is not in this shop.</Missing>
      ) : (
        <img
          src={picturePath(hash, size)}
          alt={alt}
          loading={size === "whole" ? "eager" : "lazy"}
          decoding="async"
          onError={() => setMissing(true)}
        />
      )}
      {marks.length === 0 ? null : <img src={layerUri(marks, width, height)} alt={wordsOn(marks)} />}
    </Box>
  );
}

function layerUri(marks: readonly PictureMark[], width: number, height: number): string {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${marksSvg(marks, width, height, "sans-serif")}</svg>`;
  return `data:image/svg+xml,${encodeURIComponent(svg)}`;
}

/** What is written on a picture. */
export const wordsOn = (marks: readonly PictureMark[]): string => marks.flatMap((m) => (m.kind === "words" ? [m.text] : [])).join(", ");
