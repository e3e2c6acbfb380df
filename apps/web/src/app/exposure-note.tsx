/** What it means that a server listens beyond its own machine. */
export function ExposureNote() {
  return (
    <p role="note" className="print:hidden bg-sand-wash text-ink border-b border-rule px-4 py-1 text-dense">
      <b className="font-medium">Open to the network.</b> Everybody who reaches this server can read and change everything. Start Insel
      without <code className="font-mono">--open-to-network</code> to keep it to this machine.
    </p>
  )
}
