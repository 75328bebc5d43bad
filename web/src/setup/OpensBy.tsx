import { QRCodeSVG } from "qrcode.react";
import { useState } from "react";

/** The address that a key opens, as this browser calls the application. */
export const linkOf = (kind: "invitations" | "resets", key: string) =>
  `${window.location.origin}/${kind}/${key}`;

/** A link that is shown once: to copy, or to be read off the screen by the other's phone. */
export function OpensBy({ link }: { link: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <div role="status" className="flex flex-wrap items-start gap-x-6 gap-y-3 pt-3">
      <div className="min-w-56 flex-1">
        <input
          readOnly
          aria-label="Link"
          className="entry text-sm"
          value={link}
          onFocus={(event) => event.target.select()}
        />
        <button
          type="button"
          className="line-button"
          onClick={() => void navigator.clipboard.writeText(link).then(() => setCopied(true))}
        >
          {copied ? "Copied" : "Copy link"}
        </button>
      </div>
      {/* Dark on light in every theme: phones read no other. */}
      <QRCodeSVG value={link} title="QR code for the link" size={148} marginSize={3} />
    </div>
  );
}
