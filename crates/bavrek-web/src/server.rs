//! The listener: so many connections at once and no more, none that dawdles, and an end that comes.

use std::convert::Infallible;
use std::io;
use std::net::SocketAddr;
use std::sync::Arc;
use std::time::Duration;

use axum::Router;
use axum::extract::{ConnectInfo, Request};
use axum::response::Response;
use hyper::body::Incoming;
use hyper::server::conn::http1;
use hyper::service::service_fn;
use hyper_util::rt::{TokioIo, TokioTimer};
use hyper_util::server::graceful::GracefulShutdown;
use tokio::net::{TcpListener, TcpSocket, TcpStream};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};
use tokio_io_timeout::TimeoutStream;
use tower::ServiceExt as _;

/// Connections that are open at once; more wait until one ends.
const MOST_CONNECTIONS: usize = 2_000;
/// Connections that the system keeps until they are taken. One that comes when these are full is open for its client alone, and stays so.
const AT_THE_DOOR: u32 = 2_048;
/// How long the head of a request may take, and how long a connection may stand idle between two.
const HEAD: Duration = Duration::from_secs(10);
/// How long a reader may take nothing of what is sent.
const UNREAD: Duration = Duration::from_secs(30);
/// How long running requests may go on after the end was called.
const LAST_WORDS: Duration = Duration::from_secs(10);
/// How long to wait after a connection could not be taken: open files have run out, and more haste empties nothing.
const BREATH: Duration = Duration::from_millis(50);

/// Listens at an address, so that a crowd that comes at once (every phone and page after a restart) is let in.
pub fn listen(address: SocketAddr) -> io::Result<TcpListener> {
    let socket = if address.is_ipv4() { TcpSocket::new_v4()? } else { TcpSocket::new_v6()? };
    // An address whose last connections are still ending may be listened at again.
    socket.set_reuseaddr(true)?;
    socket.bind(address)?;
    socket.listen(AT_THE_DOOR)
}

/// Serves until `shutdown` resolves, then lets running requests finish, for a while.
pub(crate) async fn serve(router: Router, listener: TcpListener, shutdown: impl Future<Output = ()>) -> io::Result<()> {
    let (open, ending) = (Arc::new(Semaphore::new(MOST_CONNECTIONS)), GracefulShutdown::new());
    let mut shutdown = std::pin::pin!(shutdown);
    loop {
        let place = open.clone().acquire_owned();
        let accepted = async { (place.await, listener.accept().await) };
        let (place, accepted) = tokio::select! {
            taken = accepted => taken,
            () = &mut shutdown => break,
        };
        match (place, accepted) {
            (Ok(place), Ok((stream, peer))) => connect(router.clone(), (stream, peer), &ending, place),
            (_, Err(error)) => {
                tracing::warn!(%error, "a connection was not taken");
                tokio::time::sleep(BREATH).await;
            }
            (Err(_), _) => break,
        }
    }
    drop(listener);
    if tokio::time::timeout(LAST_WORDS, ending.shutdown()).await.is_err() {
        tracing::warn!("requests were still running at the end");
    }
    Ok(())
}

/// Answers the requests of one connection.
fn connect(
    router: Router,
    (stream, peer): (TcpStream, SocketAddr),
    ending: &GracefulShutdown,
    place: OwnedSemaphorePermit,
) {
    // What is written is complete: waiting to fill packets only makes pages late.
    let _ = stream.set_nodelay(true);
    let mut stream = TimeoutStream::new(stream);
    stream.set_write_timeout(Some(UNREAD));
    let answer = service_fn(move |request: hyper::Request<Incoming>| {
        let router = router.clone();
        async move {
            let mut request: Request = request.map(axum::body::Body::new);
            request.extensions_mut().insert(ConnectInfo(peer));
            let answered: Result<Response, Infallible> = router.oneshot(request).await;
            answered
        }
    });
    let connection = http1::Builder::new()
        .timer(TokioTimer::new())
        .header_read_timeout(HEAD)
        .serve_connection(TokioIo::new(Box::pin(stream)), answer);
    let connection = ending.watch(connection);
    tokio::spawn(async move {
        // Who went away or dawdled is no news.
        let _ = connection.await;
        drop(place);
    });
}
