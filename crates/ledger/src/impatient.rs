//! A line to the database that does not wait for ever.
//!
//! The server ends what takes too long ([`crate::pool`]); a server that is stopped, or lies behind a line that lets nothing
//! through, ends nothing and answers nothing. So this side of the line has its limit, too: what was asked and is not
//! answered in time closes it. A line on which nothing was asked may be silent for as long as it likes.

use std::{
    io,
    pin::Pin,
    task::{Context, Poll},
    time::Duration,
};

use tokio::{
    io::{AsyncRead, AsyncWrite, ReadBuf},
    time::{Instant, Sleep},
};

/// A stream of PostgreSQL's protocol that closes when nothing comes for so long after something was asked.
pub(crate) struct Impatient<S> {
    stream: S,
    longest: Duration,
    /// An answer is outstanding; until when it is waited for stands beside.
    asked: bool,
    until: Pin<Box<Sleep>>,
}

impl<S> Impatient<S> {
    pub(crate) fn new(stream: S, longest: Duration) -> Self {
        Self { stream, longest, asked: false, until: Box::pin(tokio::time::sleep(longest)) }
    }

    fn wait_anew(&mut self) {
        self.asked = true;
        let until = Instant::now() + self.longest;
        self.until.as_mut().reset(until);
    }
}

/// Ends with the message *ready for query* (protocol 3.0: `Z`, its length of five, and the state of the transaction):
/// nothing that was asked is outstanding. Where the message comes in two pieces this is not seen, and a line at rest is
/// closed as if it were silent; the next call opens another one.
fn at_rest(read: &[u8]) -> bool {
    matches!(read, [.., b'Z', 0, 0, 0, 5, b'I' | b'T' | b'E'])
}

impl<S: AsyncRead + Unpin> AsyncRead for Impatient<S> {
    fn poll_read(mut self: Pin<&mut Self>, task: &mut Context<'_>, into: &mut ReadBuf<'_>) -> Poll<io::Result<()>> {
        let before = into.filled().len();
        if let Poll::Ready(read) = Pin::new(&mut self.stream).poll_read(task, into) {
            match at_rest(&into.filled()[before..]) {
                true => self.asked = false,
                false => self.wait_anew(),
            }
            return Poll::Ready(read);
        }
        match self.asked && self.until.as_mut().poll(task).is_ready() {
            true => Poll::Ready(Err(io::Error::new(io::ErrorKind::TimedOut, "the database does not answer"))),
            false => Poll::Pending,
        }
    }
}

impl<S: AsyncWrite + Unpin> AsyncWrite for Impatient<S> {
    fn poll_write(mut self: Pin<&mut Self>, task: &mut Context<'_>, bytes: &[u8]) -> Poll<io::Result<usize>> {
        let written = Pin::new(&mut self.stream).poll_write(task, bytes);
        if matches!(written, Poll::Ready(Ok(_))) || !self.asked {
            self.wait_anew();
        }
        // Whoever drives the line reads before they write: the end of this wait wakes them to read once more.
        let _ = self.until.as_mut().poll(task);
        written
    }

    fn poll_flush(mut self: Pin<&mut Self>, task: &mut Context<'_>) -> Poll<io::Result<()>> {
        Pin::new(&mut self.stream).poll_flush(task)
    }

    fn poll_shutdown(mut self: Pin<&mut Self>, task: &mut Context<'_>) -> Poll<io::Result<()>> {
        Pin::new(&mut self.stream).poll_shutdown(task)
    }
}
