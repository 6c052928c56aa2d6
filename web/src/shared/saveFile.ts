/** Offer something made in the browser as a file. */
export function saveFile(name: string, content: Blob | string): void {
  const isAddress = typeof content === "string" && content.startsWith("data:");
  const blob = typeof content === "string" ? new Blob([content], { type: "text/csv" }) : content;
  const address = isAddress ? content : URL.createObjectURL(blob);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  if (!isAddress) URL.revokeObjectURL(address);
}
