//! Letters: shown, delivered by a mail server once it is there, tried again and given up.

use std::net::SocketAddr;
use std::sync::{Arc, Mutex};

use crate::common::phones::make_link;
use crate::common::{DESK, Visitor, World, app_at, now, serve, world};
use bavrek_core::contact::LONGEST_TEXT;
use bavrek_store::outbox::{self, Message};
use bavrek_store::{Pool, clients};
use bavrek_web::{App, Delivery, MailBy};
use chrono::{DateTime, Duration, Utc};
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::TcpListener;

/// A mail server that takes what it is sent, or refuses every letter.
fn mail_server(listener: TcpListener, refuses: bool) -> Arc<Mutex<Vec<String>>> {
    let letters: Arc<Mutex<Vec<String>>> = Arc::default();
    let kept = letters.clone();
    tokio::spawn(async move {
        while let Ok((stream, _)) = listener.accept().await {
            let mut stream = BufReader::new(stream);
            stream.write_all(b"220 test\r\n").await.unwrap();
            let (mut line, mut letter) = (String::new(), None::<String>);
            while stream.read_line(&mut line).await.is_ok_and(|n| n > 0) {
                let said = std::mem::take(&mut line);
                let answer = match (&mut letter, said.get(..4).unwrap_or_default()) {
                    (Some(text), _) if said == ".\r\n" => {
                        kept.lock().unwrap().push(std::mem::take(text));
                        letter = None;
                        "250 kept"
                    }
                    (Some(text), _) => {
                        text.push_str(&said);
                        continue;
                    }
                    (None, "RCPT") if refuses => "550 nobody of that name",
                    (None, "DATA") => {
                        letter = Some(String::new());
                        "354 go on"
                    }
                    (None, "QUIT") => break,
                    _ => "250 ok",
                };
                stream.write_all(format!("{answer}\r\n").as_bytes()).await.unwrap();
            }
        }
    });
    letters
}

async fn free() -> TcpListener {
    TcpListener::bind("127.0.0.1:0").await.unwrap()
}

/// The application at a moment, with a mail server at an address.
fn app(pool: &Pool, at: DateTime<Utc>, server: SocketAddr) -> App {
    let server = format!("smtp://{server}");
    let by = MailBy { server: &server, from: "Studio <studio@bavrek.example>", texts: Some("texts.bavrek.example") };
    let delivery = Delivery::new(None, Some(by)).unwrap();
    App { outbox: Arc::new(delivery), ..app_at(pool.clone(), at) }
}

/// A trainer who sends a client with an address their link, by a server at an address.
async fn sent(pool: &Pool, server: SocketAddr) -> (World, Visitor, String) {
    sent_to(pool, server, "odalys@bavrek.example").await
}

async fn sent_to(pool: &Pool, server: SocketAddr, contact: &str) -> (World, Visitor, String) {
    let world = world(pool, DESK).await;
    let client = clients::one(pool, world.trainer, world.client).await.unwrap();
    let client = clients::Client { contact: contact.into(), ..client };
    clients::update(pool, world.trainer, &client, now().date_naive()).await.unwrap();
    let base = serve(app(pool, now(), server)).await;
    let visitor = Visitor::signed_in(&base, DESK).await;
    let link = make_link(&visitor, &world, &[]).await;
    (world, visitor, link)
}

async fn letter(pool: &Pool, world: &World) -> Message {
    outbox::all(pool, world.trainer).await.unwrap().remove(0).1
}

async fn whole(pool: &Pool) -> Option<String> {
    sqlx::query_scalar("select whole from outbox").fetch_one(pool).await.unwrap()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_letter_goes_out_as_text_and_html_and_is_kept_without_its_link(pool: Pool) {
    let listener = free().await;
    let address = listener.local_addr().unwrap();
    let letters = mail_server(listener, false);
    let (world, visitor, link) = sent(&pool, address).await;
    let mail = letters.lock().unwrap().remove(0);
    // Long lines are folded with a sign of equality.
    let mail = mail.replace("=\r\n", "");
    for part in ["To: odalys@bavrek.example", "From: Studio <studio@bavrek.example>", "text/plain", "text/html", &link]
    {
        assert!(mail.contains(part), "{part}: {mail}");
    }
    assert_eq!(letter(&pool, &world).await.delivered_at, Some(now()));
    assert_eq!(whole(&pool).await, None, "what opens something is kept no longer than it has to be");
    let page = visitor.get("/outbox").await;
    assert!(page.text.contains("by a mail server") && page.text.contains("delivered today"), "{}", page.text);
    assert!(!page.text.contains(&link), "{}", page.text);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_does_not_arrive_waits_and_arrives_once(pool: Pool) {
    let listener = free().await;
    let address = listener.local_addr().unwrap();
    drop(listener);
    let (world, visitor, link) = sent(&pool, address).await;
    let waits = letter(&pool, &world).await;
    assert_eq!((waits.attempts, waits.delivered_at), (1, None));
    assert_eq!(waits.next_try_at, Some(now() + Duration::minutes(1)));
    assert!(visitor.get("/outbox").await.text.contains("not delivered yet"));
    // Not before its time, then by two processes at once: once.
    bavrek_web::deliver(&app(&pool, now() + Duration::seconds(30), address)).await;
    assert_eq!(letter(&pool, &world).await.attempts, 1);
    let letters = mail_server(TcpListener::bind(address).await.unwrap(), false);
    let later = now() + Duration::minutes(2);
    let (one, other) = (app(&pool, later, address), app(&pool, later, address));
    tokio::join!(bavrek_web::deliver(&one), bavrek_web::deliver(&other));
    assert_eq!(letters.lock().unwrap().len(), 1);
    assert!(letters.lock().unwrap()[0].replace("=\r\n", "").contains(&link));
    assert_eq!(letter(&pool, &world).await.delivered_at, Some(later));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_refused_is_given_up_and_tried_again_by_hand(pool: Pool) {
    let listener = free().await;
    let address = listener.local_addr().unwrap();
    let _letters = mail_server(listener, true);
    let (world, visitor, _) = sent(&pool, address).await;
    let mut at = now();
    for _ in 0..9 {
        at += Duration::days(2);
        bavrek_web::deliver(&app(&pool, at, address)).await;
    }
    let given_up = letter(&pool, &world).await;
    assert_eq!((given_up.attempts, given_up.next_try_at, given_up.delivered_at), (6, None, None));
    let page = visitor.get("/outbox").await;
    assert!(page.text.contains("nobody tries any more") && page.text.contains("refused it"), "{}", page.text);
    let again = visitor.post(&format!("/outbox/{}/again", given_up.id), &[]).await;
    assert!(again.text.contains("tried again"), "{}", again.text);
    assert_eq!(letter(&pool, &world).await.attempts, 1);
    // A week later it is whole no more.
    outbox::sweep(&pool, now() + Duration::days(8)).await.unwrap();
    assert_eq!(whole(&pool).await, None);
    let gone = visitor.post(&format!("/outbox/{}/again", given_up.id), &[]).await;
    assert_eq!(gone.status, reqwest::StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn to_a_number_all_goes_as_short_text_messages_by_the_gateway(pool: Pool) {
    let listener = free().await;
    let address = listener.local_addr().unwrap();
    let letters = mail_server(listener, false);
    let (world, visitor, link) = sent_to(&pool, address, "+436601234567").await;
    let calendar = format!("/clients/{}/calendar", world.client);
    let page = visitor.post(&calendar, &[("starts_at", "07:30"), ("send", "on")]).await;
    assert_eq!(page.status, 200);
    let feed = page.text.split("value=\"").find(|part| part.contains("/follow/")).unwrap().split('"').next().unwrap();
    let month = format!("/clients/{}/review/month", world.client);
    let too_long = "x".repeat(LONGEST_TEXT + 1);
    let id = uuid::Uuid::now_v7().to_string();
    let refused = visitor.post(&month, &[("id", &id), ("text", &too_long)]).await;
    assert!(refused.status == 422 && refused.text.contains("at most 459"), "{}", refused.text);
    visitor.post(&month, &[("id", &id), ("text", "Well done.")]).await;
    let mails: Vec<String> = letters.lock().unwrap().iter().map(|mail| mail.replace("=\r\n", "")).collect();
    assert_eq!(mails.len(), 3);
    for (mail, says) in mails.iter().zip([link.as_str(), feed, "Well done."]) {
        let (head, text) = mail.split_once("\r\n\r\n").unwrap();
        assert!(head.contains("To: 436601234567@texts.bavrek.example"), "{head}");
        assert!(!head.contains("Subject") && !head.contains("multipart"), "{head}");
        assert!(text.contains(says) && text.chars().count() <= LONGEST_TEXT, "{text}");
    }
    let outbox = visitor.get("/outbox").await.text;
    assert_eq!(outbox.matches("text message to").count(), 3);
    let secret = feed.split('/').rev().nth(1).unwrap();
    assert!(!outbox.contains(secret) && outbox.contains(&secret[secret.len() - 6..]), "{outbox}");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn without_a_gateway_a_text_message_waits_and_says_why(pool: Pool) {
    let listener = free().await;
    let server = format!("smtp://{}", listener.local_addr().unwrap());
    let letters = mail_server(listener, false);
    let world = world(&pool, DESK).await;
    let client = clients::one(&pool, world.trainer, world.client).await.unwrap();
    let client = clients::Client { contact: "+436601234567".into(), ..client };
    clients::update(&pool, world.trainer, &client, now().date_naive()).await.unwrap();
    let by = MailBy { server: &server, from: "Studio <studio@bavrek.example>", texts: None };
    let delivery = Delivery::new(None, Some(by)).unwrap();
    let base = serve(App { outbox: Arc::new(delivery), ..app_at(pool.clone(), now()) }).await;
    let visitor = Visitor::signed_in(&base, DESK).await;
    make_link(&visitor, &world, &[]).await;
    let waits = letter(&pool, &world).await;
    assert_eq!(waits.trouble, "no gateway for text messages is set up");
    assert_eq!((waits.delivered_at, letters.lock().unwrap().len()), (None, 0));
    assert!(Delivery::new(None, Some(MailBy { texts: Some("no domain"), ..by })).is_err());
}
