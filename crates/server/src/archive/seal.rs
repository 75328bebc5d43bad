//! The end of an archive, signed.
//!
//! Ed25519 (RFC 8032), by a key that is made from the server's cookie key, so that there is nothing more to keep. The
//! public key stands in the archive and under *Set-up, Data*: whoever reads the archive elsewhere compares them.

use anyhow::{Context, ensure};
use ed25519_dalek::{Signature, Signer, SigningKey, VerifyingKey};
use ledger::chain::Head;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use uuid::Uuid;

/// What a server signs archives with.
#[derive(Debug, Clone)]
pub struct Seal(SigningKey);

/// `head.json`.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Sealed {
    /// The farm.
    pub farm: Uuid,
    /// Entries in the ledger.
    pub position: i64,
    /// Digest of the last, in hexadecimal.
    pub digest: String,
    /// SHA-256 of `digests.txt`, in hexadecimal.
    pub files: String,
    /// The public key, in hexadecimal.
    pub key: String,
    /// The signature over all of the above but the key, in hexadecimal.
    pub signature: String,
}

impl Sealed {
    fn told(&self) -> String {
        format!("ink meadow archive 1\n{}\n{}\n{}\n{}\n", self.farm, self.position, self.digest, self.files)
    }

    /// Hold the signature against what stands here.
    ///
    /// # Errors
    /// When it is not by the key that stands here.
    pub(super) fn check(&self) -> anyhow::Result<()> {
        let fixed = |text: &str| hex::decode(text).ok();
        let key = fixed(&self.key).and_then(|bytes| VerifyingKey::from_bytes(&bytes.try_into().ok()?).ok());
        let signature = fixed(&self.signature).and_then(|bytes| Signature::from_slice(&bytes).ok());
        let (key, signature) = key.zip(signature).context("head.json has no key or no signature")?;
        let held = key.verify_strict(self.told().as_bytes(), &signature).is_ok();
        ensure!(held, "head.json is not as it was signed");
        Ok(())
    }
}

impl Seal {
    /// The seal of a server, from its cookie key.
    pub fn of(cookie_key: &[u8]) -> Self {
        let seed = Sha256::new().chain_update(b"ink meadow archives\n").chain_update(cookie_key).finalize();
        Self(SigningKey::from_bytes(&seed.into()))
    }

    /// The public key, in hexadecimal.
    pub fn key(&self) -> String {
        hex::encode(self.0.verifying_key().as_bytes())
    }

    pub(super) fn sealed(&self, farm: Uuid, head: Head, files: String) -> Sealed {
        let Head { position, digest } = head;
        let mut sealed = Sealed { farm, position, digest, files, key: self.key(), signature: String::new() };
        sealed.signature = hex::encode(self.0.sign(sealed.told().as_bytes()).to_bytes());
        sealed
    }
}

/// Hexadecimal in groups of four, as people compare it.
///
/// ```
/// assert_eq!(server::archive::in_groups("00ff12ab"), "00ff 12ab");
/// ```
pub fn in_groups(hex: &str) -> String {
    let letters: Vec<char> = hex.chars().collect();
    letters.chunks(4).map(|group| group.iter().collect::<String>()).collect::<Vec<_>>().join(" ")
}
