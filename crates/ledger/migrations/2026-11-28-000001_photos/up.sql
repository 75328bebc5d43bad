-- Pictures that entries tell of. An entry holds the digest, so that the ledger's chain covers the picture; the bytes stand
-- here, so that a book is made of entries without reading pictures. Neither changed nor taken away.
CREATE TABLE photos (
    farm_id uuid NOT NULL REFERENCES farms,
    id uuid NOT NULL,
    jpeg bytea NOT NULL CHECK (octet_length(jpeg) BETWEEN 4 AND 500000),
    sha256 text NOT NULL CHECK (sha256 = encode(sha256(jpeg), 'hex')),
    created_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (farm_id, id)
);
-- Pictures are packed already.
ALTER TABLE photos ALTER COLUMN jpeg SET STORAGE EXTERNAL;
GRANT SELECT, INSERT ON photos TO inkmeadow_app;
