//! What stands between the application and whoever means it ill or stumbles: words for every refusal, an end to whatever dawdles,
//! and a calm end of the process.

use std::time::{Duration, Instant};

use crate::common::{DESK, PASSWORD, Visitor, app_at, desk, now, serve, world};
use bavrek_store::Pool;
use bavrek_web::{App, LONGEST_REQUEST};
use reqwest::{Method, StatusCode, header};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;

/// Words of parsers and frameworks, which no page speaks.
const FOREIGN: [&str; 6] = ["deserialize", "Failed to", "invalid digit", "serde", "Form requests", "Cannot parse"];

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn every_refusal_is_a_page_or_a_document(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let form = format!("csrf={}&name=x", visitor.csrf);
    let client = format!("/clients/{}", world.client);
    let asked: [(Method, String, &str, String, StatusCode); 8] = [
        (Method::GET, "/clients/none".into(), "", String::new(), StatusCode::NOT_FOUND),
        (
            Method::GET,
            format!("/sessions/{}/train?slot=first", world.session),
            "",
            String::new(),
            StatusCode::BAD_REQUEST,
        ),
        (Method::DELETE, client.clone(), "", String::new(), StatusCode::FORBIDDEN),
        (Method::POST, client.clone(), "application/json", "{}".into(), StatusCode::FORBIDDEN),
        (
            Method::POST,
            "/account".into(),
            "application/x-www-form-urlencoded",
            form.clone(),
            StatusCode::METHOD_NOT_ALLOWED,
        ),
        (Method::POST, "/account/name".into(), "text/plain", form.clone(), StatusCode::UNPROCESSABLE_ENTITY),
        (
            Method::POST,
            "/account/name".into(),
            "application/x-www-form-urlencoded",
            "x".repeat(300_000),
            StatusCode::PAYLOAD_TOO_LARGE,
        ),
        (Method::POST, "/account/devices/x".into(), "application/x-www-form-urlencoded", form, StatusCode::NOT_FOUND),
    ];
    for (method, path, kind, body, status) in asked {
        let answer = visitor.ask(method.clone(), &path, kind, body).await;
        assert_eq!(answer.status(), status, "{method} {path}");
        assert_eq!(answer.headers()[header::CONTENT_TYPE], "text/html; charset=utf-8", "{method} {path}");
        let text = answer.text().await.unwrap();
        assert!(text.contains("Bavrek") && !FOREIGN.iter().any(|f| text.contains(f)), "{method} {path}: {text}");
    }
    for (method, status) in
        [(Method::GET, StatusCode::METHOD_NOT_ALLOWED), (Method::POST, StatusCode::UNPROCESSABLE_ENTITY)]
    {
        let answer = visitor.ask(method, "/api/v1/compute/fit", "application/json", "{".into()).await;
        assert_eq!(
            (answer.status(), &answer.headers()[header::CONTENT_TYPE]),
            (status, &"application/problem+json".parse().unwrap())
        );
        let body: serde_json::Value = serde_json::from_str(&answer.text().await.unwrap()).unwrap();
        assert!(body["error"]["path"].is_string() && body["error"]["message"].is_string(), "{body}");
    }
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn pages_tell_browsers_what_they_may_do(pool: Pool) {
    world(&pool, DESK).await;
    for secure in [false, true] {
        let base = serve(App { secure_cookies: secure, ..app_at(pool.clone(), now()) }).await;
        let visitor = Visitor::new(&base);
        let page = visitor.ask(Method::GET, "/sign-in", "", String::new()).await;
        let head = |name: &str| page.headers().get(name).map_or("", |v| v.to_str().unwrap()).to_owned();
        assert!(head("content-security-policy").starts_with("default-src 'none'; script-src 'self'"));
        assert_eq!(head("x-content-type-options"), "nosniff");
        assert_eq!(head("cross-origin-opener-policy"), "same-origin");
        assert_eq!(head("cross-origin-resource-policy"), "same-origin");
        assert!(head("permissions-policy").contains("camera=()"));
        assert_eq!(head("strict-transport-security").is_empty(), !secure);
        let cookie = head("set-cookie");
        assert_eq!(
            (cookie.starts_with("__Host-bavrek-form="), cookie.ends_with("; Secure")),
            (secure, secure),
            "{cookie}"
        );
        assert!(cookie.contains("HttpOnly; SameSite=Lax") && cookie.contains("Path=/"), "{cookie}");
    }
}

/// Without its database the application says so, in a page that says when to come back, and is well again when that is.
#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn a_database_that_is_away_is_said(pool: Pool) {
    let (_, visitor) = desk(&pool).await;
    for path in ["/healthz", "/readyz"] {
        assert_eq!(visitor.get(path).await.status, StatusCode::OK, "{path}");
    }
    pool.close().await;
    assert_eq!(visitor.get("/healthz").await.status, StatusCode::OK, "the process lives");
    assert_eq!(visitor.get("/readyz").await.status, StatusCode::SERVICE_UNAVAILABLE);
    for path in ["/", "/sign-in", "/account"] {
        let asked = Instant::now();
        let answer = visitor.ask(Method::GET, path, "", String::new()).await;
        // The sign-in page needs no database for whoever has no session.
        assert!(answer.status() == StatusCode::SERVICE_UNAVAILABLE, "{path}: {}", answer.status());
        assert_eq!(answer.headers()[header::CONTENT_TYPE], "text/html; charset=utf-8", "{path}");
        assert!(answer.text().await.unwrap().contains("The database does not answer"), "{path}");
        assert!(asked.elapsed() < Duration::from_secs(4), "{path}");
    }
    assert_eq!(
        Visitor::new(&visitor.base()).get("/sign-in").await.status,
        StatusCode::OK,
        "a stranger's page needs none"
    );
}

/// Reads until the other side closes.
async fn closed_within(stream: &mut TcpStream, limit: Duration) -> bool {
    tokio::time::timeout(limit, stream.read_to_end(&mut Vec::new())).await.is_ok()
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn who_dawdles_is_let_go_and_keeps_nobody_waiting(pool: Pool) {
    world(&pool, DESK).await;
    let base = serve(App { longest: LONGEST_REQUEST, ..app_at(pool.clone(), now()) }).await;
    let address = base.strip_prefix("http://").unwrap();
    let mut slow = Vec::new();
    for i in 0..200 {
        let mut stream = TcpStream::connect(address).await.unwrap();
        // Nothing at all, half a head, half a form.
        let said: &[u8] = match i % 3 {
            0 => b"",
            1 => b"GET / HTTP/1.1\r\nHost: x\r\n",
            _ => b"POST /sign-in HTTP/1.1\r\nHost: x\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: 900\r\n\r\ncsrf=",
        };
        stream.write_all(said).await.unwrap();
        slow.push(stream);
    }
    let page = Visitor::new(&base).signs_in(DESK, PASSWORD).await;
    assert_eq!((page.status, page.address.as_str()), (StatusCode::OK, "/"), "others are served meanwhile");
    let waiting = slow
        .into_iter()
        .map(|mut stream| tokio::spawn(async move { closed_within(&mut stream, Duration::from_secs(30)).await }));
    for closed in waiting.collect::<Vec<_>>() {
        assert!(closed.await.unwrap());
    }
}

/// Whoever waits for what somebody else holds is told so, in words and with when to come back, and what is free is served meanwhile.
#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn what_takes_too_long_is_ended_and_said(pool: Pool) {
    let longest = Duration::from_millis(400);
    let base = serve(App { longest, ..app_at(pool.clone(), now()) }).await;
    let mut holds = pool.begin().await.unwrap();
    sqlx::query("lock table links, api_tokens in access exclusive mode").execute(&mut *holds).await.unwrap();
    let program = reqwest::Client::new().get(format!("{base}/api/v1/clients")).bearer_auth("bvk_none");
    let asked = Instant::now();
    let (phone, program) = (reqwest::get(format!("{base}/go/none")).await.unwrap(), program.send().await.unwrap());
    assert!(asked.elapsed() >= 2 * longest, "both were waited for");
    for (answer, kind) in [(phone, "text/html; charset=utf-8"), (program, "application/problem+json")] {
        assert_eq!(answer.status(), StatusCode::SERVICE_UNAVAILABLE, "{kind}");
        assert_eq!(answer.headers()[header::CONTENT_TYPE], kind);
        assert!(answer.headers().contains_key(header::RETRY_AFTER), "{kind}");
        let text = answer.text().await.unwrap().to_lowercase();
        assert!(text.contains("took too long") && text.contains("nothing was changed"), "{text}");
    }
    assert_eq!(reqwest::get(format!("{base}/sign-in")).await.unwrap().status(), StatusCode::OK);
    holds.rollback().await.unwrap();
    assert_eq!(reqwest::get(format!("{base}/go/none")).await.unwrap().status(), StatusCode::NOT_FOUND);
}

/// A connection that the system could not keep stays open for its client alone, which waits for ever.
#[tokio::test]
async fn a_crowd_that_comes_at_once_is_kept_until_it_is_taken() {
    let listener = bavrek_web::listen("127.0.0.1:0".parse().unwrap()).unwrap();
    let address = listener.local_addr().unwrap();
    let mut crowd = Vec::new();
    for _ in 0..300 {
        let comes = tokio::time::timeout(Duration::from_secs(10), TcpStream::connect(address));
        crowd.push(comes.await.expect("kept at the door").unwrap());
    }
    for _ in 0..300 {
        tokio::time::timeout(Duration::from_secs(10), listener.accept()).await.expect("still there").unwrap();
    }
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn the_end_comes_although_somebody_hangs_on(pool: Pool) {
    world(&pool, DESK).await;
    let listener = bavrek_web::listen("127.0.0.1:0".parse().unwrap()).unwrap();
    let address = listener.local_addr().unwrap();
    let (end, ended) = tokio::sync::oneshot::channel::<()>();
    let serving = tokio::spawn(bavrek_web::serve(app_at(pool, now()), listener, async { ended.await.unwrap() }));
    let mut idle = TcpStream::connect(address).await.unwrap();
    idle.write_all(b"GET /healthz HTTP/1.1\r\nHost: x\r\n\r\n").await.unwrap();
    idle.read_exact(&mut [0; 15]).await.unwrap();
    let mut halfway = TcpStream::connect(address).await.unwrap();
    halfway.write_all(b"POST /sign-in HTTP/1.1\r\nHost: x\r\nContent-Length: 900\r\n\r\ncsrf=").await.unwrap();
    tokio::time::sleep(Duration::from_millis(100)).await;
    end.send(()).unwrap();
    tokio::time::timeout(Duration::from_secs(15), serving).await.unwrap().unwrap().unwrap();
    assert!(closed_within(&mut idle, Duration::from_secs(1)).await);
    assert!(TcpStream::connect(address).await.is_err(), "nobody else is let in");
}
