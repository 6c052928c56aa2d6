/** The mark: a kite in four class colours. */
export function KiteMark({ height }: { readonly height: number }) {
  return <img src="/kite.svg" alt="" height={height} width={(height * 28) / 36} />;
}
