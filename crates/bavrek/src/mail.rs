//! A stand-in for a mail server, for loopback alone: what is sent to it is kept as files.

use std::io::{self, BufRead, BufReader, Read};
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::path::{Path, PathBuf};
use std::thread;
use std::time::Duration;

use anyhow::Context;
use mailin::response::{INTERNAL_ERROR, OK, TRANSACTION_FAILED};
use mailin::{Action, Handler, Response, SessionBuilder};
use uuid::Uuid;

/// Largest letter that is taken, bytes.
const LARGEST: usize = 10 * 1024 * 1024;
/// Longest line, bytes: SMTP allows a thousand.
const LONGEST_LINE: u64 = 64 * 1024;
/// How long whoever sends may take for a line.
const PATIENCE: Duration = Duration::from_secs(10);

/// One connection's letter.
#[derive(Debug, Clone)]
struct Letterbox {
    folder: PathBuf,
    letter: Vec<u8>,
}

impl Handler for Letterbox {
    fn data_start(&mut self, _: &str, _: &str, _: bool, _: &[String]) -> Response {
        self.letter.clear();
        OK
    }

    fn data(&mut self, bytes: &[u8]) -> io::Result<()> {
        // What is too large is read and refused at its end.
        if self.letter.len() <= LARGEST {
            self.letter.extend_from_slice(bytes);
        }
        Ok(())
    }

    fn data_end(&mut self) -> Response {
        if self.letter.len() > LARGEST {
            return TRANSACTION_FAILED;
        }
        let file = self.folder.join(format!("{}.eml", Uuid::now_v7()));
        match std::fs::write(file, &self.letter) {
            Ok(()) => OK,
            Err(_) => INTERNAL_ERROR,
        }
    }
}

/// Starts it on a thread of its own; says where it listens.
pub(crate) fn start(listen: SocketAddr, folder: &Path) -> anyhow::Result<SocketAddr> {
    anyhow::ensure!(listen.ip().is_loopback(), "it is for loopback alone");
    std::fs::create_dir_all(folder).with_context(|| format!("making {}", folder.display()))?;
    let listener = TcpListener::bind(listen).with_context(|| format!("listening on {listen}"))?;
    let address = listener.local_addr()?;
    let letterbox = Letterbox { folder: folder.to_owned(), letter: Vec::new() };
    thread::Builder::new().name("mail".into()).spawn(move || {
        for stream in listener.incoming().flatten() {
            // Whoever breaks off is of no interest to the next.
            let _ = talk(&stream, letterbox.clone());
        }
    })?;
    Ok(address)
}

/// One connection, line by line.
fn talk(stream: &TcpStream, letterbox: Letterbox) -> io::Result<()> {
    stream.set_read_timeout(Some(PATIENCE))?;
    let mut session = SessionBuilder::new("bavrek.localhost").build(stream.peer_addr()?.ip(), letterbox);
    let mut writer = stream;
    session.greeting().write_to(&mut writer)?;
    let mut reader = BufReader::new(stream);
    loop {
        let mut line = Vec::new();
        if reader.by_ref().take(LONGEST_LINE).read_until(b'\n', &mut line)? == 0 {
            return Ok(());
        }
        let answer = session.process(&line);
        match answer.action {
            Action::Close => return answer.write_to(&mut writer),
            Action::NoReply => {}
            Action::Reply | Action::UpgradeTls => answer.write_to(&mut writer)?,
        }
    }
}

#[cfg(test)]
mod tests {
    use std::io::Write;

    use super::*;

    #[test]
    fn a_letter_is_kept_and_a_stranger_to_smtp_is_told_so() {
        let folder = std::env::temp_dir().join(format!("bavrek-mail-{}", Uuid::now_v7()));
        let address = start("127.0.0.1:0".parse().unwrap(), &folder).unwrap();
        let stream = TcpStream::connect(address).unwrap();
        let mut reader = BufReader::new(&stream);
        let mut says = |line: &str| {
            if !line.is_empty() {
                (&stream).write_all(line.as_bytes()).unwrap();
            }
            let mut answer = String::new();
            reader.read_line(&mut answer).unwrap();
            answer[..3].to_owned()
        };
        let talk =
            ["", "HELO a\r\n", "BOO\r\n", "MAIL FROM:<a@b.example>\r\n", "RCPT TO:<c@d.example>\r\n", "DATA\r\n"];
        let answers: Vec<String> = talk.into_iter().map(&mut says).collect();
        assert_eq!(answers, ["220", "250", "500", "250", "250", "354"]);
        assert_eq!(says("Subject: Hi\r\n\r\nyour workouts\r\n.\r\n"), "250");
        let kept: Vec<PathBuf> = std::fs::read_dir(&folder).unwrap().map(|f| f.unwrap().path()).collect();
        assert_eq!(kept.len(), 1);
        assert!(std::fs::read_to_string(&kept[0]).unwrap().contains("your workouts"));
        std::fs::remove_dir_all(folder).unwrap();
        assert!(start("0.0.0.0:0".parse().unwrap(), Path::new("/nowhere")).is_err());
    }
}
