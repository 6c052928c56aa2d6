/** Hand a picture to the browser's print dialog, alone on its page. */
export function printPicture(address: string, title: string): void {
  const frame = document.createElement("iframe");
  frame.style.display = "none";
  frame.title = title;
  document.body.append(frame);
  const page = frame.contentDocument;
  if (!page) return;
  const picture = page.createElement("img");
  picture.style.maxWidth = "100%";
  picture.alt = title;
  picture.onload = () => {
    frame.contentWindow?.print();
    setTimeout(() => frame.remove(), 1000);
  };
  page.title = title;
  page.body.append(picture);
  picture.src = address;
}
