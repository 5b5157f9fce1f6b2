/** Gives the person a file. Names and contents are data: nothing in it runs here. */
export function saveFile(name: string, contents: BlobPart, type: string): void {
  const url = URL.createObjectURL(new Blob([contents], { type }));
  const link = document.createElement("a");
  link.href = url;
  link.download = name.replace(/[^\w.-]+/g, "-");
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** Draws an SVG document onto a bitmap of twice its size and gives it as PNG. */
export async function svgToPng(svg: string, width: number, height: number): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await image.decode();
  const canvas = document.createElement("canvas");
  // Beyond this browsers refuse to make a bitmap.
  const scale = Math.min(2, 8000 / Math.max(width, height));
  canvas.width = Math.ceil(width * scale);
  canvas.height = Math.ceil(height * scale);
  const brush = canvas.getContext("2d");
  if (brush === null) throw new Error("this browser gives no drawing surface");
  brush.fillStyle = "#ffffff";
  brush.fillRect(0, 0, canvas.width, canvas.height);
  brush.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob === null ? reject(new Error("the picture is too large")) : resolve(blob)), "image/png"),
  );
}
