/** A drawing of the page as a PNG, in the colours of the light theme's paper. Nothing when there is none. */
export async function pictureOf(svg: SVGSVGElement | null): Promise<Blob | undefined> {
  if (!svg) return undefined;
  const box = svg.viewBox.baseVal;
  const copy = svg.cloneNode(true) as SVGSVGElement;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", String(box.width * 2));
  copy.setAttribute("height", String(box.height * 2));
  const style = getComputedStyle(document.documentElement);
  // Outside the page variables mean nothing: what they stand for is put in.
  const text = new XMLSerializer()
    .serializeToString(copy)
    .replace(/var\((--[\w-]+)\)/g, (_, name: string) => style.getPropertyValue(name).trim());
  const image = new Image();
  const url = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  await new Promise((done, fail) => {
    image.onload = done;
    image.onerror = fail;
    image.src = url;
  });
  const canvas = document.createElement("canvas");
  canvas.width = box.width * 2;
  canvas.height = box.height * 2;
  const ctx = canvas.getContext("2d");
  if (!ctx) return undefined;
  ctx.fillStyle = style.getPropertyValue("--chakra-colors-page").trim();
  ctx.fillRect(0, 0, canvas.width, canvas.height);
  ctx.drawImage(image, 0, 0);
  return new Promise((done) => canvas.toBlob((b) => done(b ?? undefined), "image/png"));
}
