//! A body by gzip, made of pieces that were compressed one by one.
//!
//! A season of a large farm is megabytes, and a write changes one strip of it. Each strip is deflated on its own and ends at
//! a byte (a *full flush*, RFC 1951: what comes behind refers to nothing before it), so that pieces stand behind one another
//! in one stream; the checksum of the whole comes from those of the pieces.

use actix_web::web::Bytes;
use crc32fast::Hasher;
use flate2::{Compress, Compression, FlushCompress, Status};

/// A piece of a body, compressed.
#[derive(Debug, Clone)]
pub struct Piece {
    deflated: Bytes,
    checksum: Hasher,
    length: u32,
}

/// Nothing can be compressed any more: memory ran out.
#[derive(Debug, thiserror::Error)]
#[error("a piece of an answer could not be compressed")]
pub struct Uncompressed;

impl Piece {
    /// A piece of text.
    ///
    /// # Errors
    /// When memory runs out.
    pub fn of(text: &str) -> Result<Self, Uncompressed> {
        let mut compress = Compress::new(Compression::new(4), false);
        let mut deflated = Vec::with_capacity(text.len() / 4 + 64);
        let mut rest = text.as_bytes();
        loop {
            let before = compress.total_in();
            let status = compress.compress_vec(rest, &mut deflated, FlushCompress::Full).map_err(|_| Uncompressed)?;
            rest = &rest[(compress.total_in() - before) as usize..];
            // Room left over means that all was written, and the flush behind it.
            if status == Status::Ok && rest.is_empty() && deflated.len() < deflated.capacity() {
                break;
            }
            deflated.reserve(deflated.capacity().max(64));
        }
        let mut checksum = Hasher::new();
        checksum.update(text.as_bytes());
        Ok(Self { deflated: deflated.into(), checksum, length: text.len() as u32 })
    }

    /// Memory that it takes.
    pub fn bytes(&self) -> usize {
        self.deflated.len()
    }
}

/// Pieces behind one another as one body by gzip (RFC 1952).
///
/// ```
/// use std::io::Read;
/// use server::pieces::{Piece, gzip};
/// let pieces = ["[1,", "2", "]"].map(|text| Piece::of(text).unwrap());
/// let mut text = String::new();
/// flate2::read::GzDecoder::new(&gzip(&pieces)[..]).read_to_string(&mut text).unwrap();
/// assert_eq!(text, "[1,2]");
/// ```
pub fn gzip<'a>(pieces: impl IntoIterator<Item = &'a Piece>) -> Bytes {
    // Deflated, no name, no moment, no matter on what system.
    let mut body = vec![0x1f, 0x8b, 8, 0, 0, 0, 0, 0, 0, 0xff];
    let (mut checksum, mut length) = (Hasher::new(), 0_u32);
    for piece in pieces {
        body.extend_from_slice(&piece.deflated);
        checksum.combine(&piece.checksum);
        length = length.wrapping_add(piece.length);
    }
    // An empty block, the last.
    body.extend_from_slice(&[3, 0]);
    body.extend_from_slice(&checksum.finalize().to_le_bytes());
    body.extend_from_slice(&length.to_le_bytes());
    body.into()
}
