//! The door and the account: guesses, invitations, new passwords, the second step, devices.

use crate::common::to_folder;
use crate::common::{DESK, PASSWORD, Page, Visitor, app_at, assert_refused, now, serve, start, start_at, world};
use bavrek_store::accounts;
use bavrek_store::{Pool, outbox, trainers};
use bavrek_web::{App, invite};
use chrono::{DateTime, Duration, Utc};
use reqwest::StatusCode;
use totp_rs::{Algorithm, Secret, TOTP};

const NEW: &str = "linen and chalk";
const NEW_TWICE: [(&str, &str); 2] = [("new_password", NEW), ("again", NEW)];

async fn count(pool: &Pool, query: &str) -> i64 {
    sqlx::query_scalar(sqlx::AssertSqlSafe(query.to_owned())).fetch_one(pool).await.unwrap()
}

/// The path of a link.
fn path(link: &str) -> &str {
    link.strip_prefix("http://bavrek.example").unwrap()
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn whoever_looks_at_the_door_leaves_nothing_behind(pool: Pool) {
    world(&pool, DESK).await;
    let visitor = Visitor::new(&start(pool.clone()).await);
    for path in ["/sign-in", "/forgotten", "/", "/clients/new", "/join/x", "/reset/x"] {
        assert!(visitor.get(path).await.text.contains("name=\"csrf\"") || path.ends_with('x'), "{path}");
    }
    assert_eq!(count(&pool, "select count(*) from http_sessions").await, 0);
    assert_eq!(
        visitor.post_bare("/sign-in", &[("email", DESK), ("password", PASSWORD)]).await.status,
        StatusCode::FORBIDDEN
    );
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn a_session_is_not_to_be_read_from_the_database_and_its_form_token_is_its_own(pool: Pool) {
    world(&pool, DESK).await;
    let mut visitor = Visitor::new(&start(pool.clone()).await);
    let before = visitor.get("/sign-in").await.hidden("csrf");
    visitor.signs_in(DESK, PASSWORD).await;
    let stale = visitor.post_bare("/account/name", &[("csrf", &before), ("name", "Zed")]).await;
    assert_eq!(stale.status, StatusCode::FORBIDDEN, "the token of before was left at the door");
    let (one, other) = (visitor.get("/account").await.hidden("csrf"), visitor.get("/account").await.hidden("csrf"));
    assert_ne!(one, other, "no two pages hold the same bytes");
    for token in [one, other] {
        assert_eq!(
            visitor.post_bare("/account/name", &[("csrf", &token), ("name", "Zed")]).await.status,
            StatusCode::OK
        );
    }
    let id: String = sqlx::query_scalar("select id from http_sessions").fetch_one(&pool).await.unwrap();
    assert!(id.len() == 64 && !visitor.cookie("bavrek").is_empty() && !id.contains(&visitor.cookie("bavrek")));
}

/// Six guesses at once, then each waits: whether the address has an account or not, and in the same words.
#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn guesses_are_slowed_down(pool: Pool) {
    world(&pool, DESK).await;
    let base = start(pool.clone()).await;
    for email in [DESK, "nobody@bavrek.example"] {
        for _ in 0..6 {
            let page = Visitor::new(&base).signs_in(email, "wrong wrong wrong").await;
            assert_refused(&page, "E-mail address or password: they do not match.", email);
        }
        let page = Visitor::new(&base).signs_in(email, PASSWORD).await;
        assert_eq!(page.status, StatusCode::TOO_MANY_REQUESTS, "{email}: the right one is no way around it");
        assert!(page.text.contains("The next one is looked at in 1 s") && page.text.contains(email));
    }
    let base = start_at(pool.clone(), now() + Duration::seconds(2)).await;
    assert_eq!(Visitor::new(&base).signs_in(DESK, PASSWORD).await.address, "/");
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn guesses_at_once_are_counted_one_by_one(pool: Pool) {
    world(&pool, DESK).await;
    let base = start(pool.clone()).await;
    let guesses = (0..30).map(|_| {
        let base = base.clone();
        tokio::spawn(async move { Visitor::new(&base).signs_in(DESK, "wrong wrong wrong").await.status })
    });
    let mut looked_at = 0;
    for guess in guesses.collect::<Vec<_>>() {
        looked_at += usize::from(guess.await.unwrap() == StatusCode::UNPROCESSABLE_ENTITY);
    }
    assert!((1..=10).contains(&looked_at), "{looked_at}");
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn an_invitation_makes_one_account(pool: Pool) {
    let base = start(pool.clone()).await;
    let link = invite(&pool, "http://bavrek.example", ("new@bavrek.example", "Nell Marsh")).await.unwrap();
    let mut visitor = Visitor::new(&base);
    let form = visitor.get(path(&link)).await;
    assert!(form.text.contains("Nell Marsh") && form.text.contains("new@bavrek.example"));
    visitor.csrf = form.hidden("csrf");
    for (fields, says) in [
        ([("name", "Nell"), ("new_password", "short"), ("again", "short")], "has 5 characters; at least 10 are needed"),
        ([("name", "Nell"), ("new_password", NEW), ("again", "other")], "is not the same"),
        (
            [("name", "Nell"), ("new_password", "NEW@bavrek.example"), ("again", "NEW@bavrek.example")],
            "is the e-mail address",
        ),
        (
            [("name", "Nell"), ("new_password", "aaaaaaaaaaaa"), ("again", "aaaaaaaaaaaa")],
            "one character over and over",
        ),
        ([("name", ""), ("new_password", NEW), ("again", NEW)], "is needed"),
    ] {
        let page = visitor.post(path(&link), &fields).await;
        assert_refused(&page, says, "");
        assert!(!page.text.contains(NEW), "a password is never sent back");
    }
    let page = visitor.post(path(&link), &[&[("name", "Nell Marsh")][..], &NEW_TWICE].concat()).await;
    assert_eq!((page.status, page.address.as_str()), (StatusCode::OK, "/"), "signed in at once");
    assert_eq!(visitor.get(path(&link)).await.status, StatusCode::GONE, "once");
    assert_eq!(Visitor::new(&base).signs_in("New@Bavrek.example", NEW).await.address, "/");
    let taken = invite(&pool, "http://bavrek.example", ("NEW@bavrek.example", "")).await;
    assert!(matches!(taken, Err(bavrek_store::StoreError::Conflict)));
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn an_invitation_ends_after_seven_days(pool: Pool) {
    let link = invite(&pool, "http://bavrek.example", ("new@bavrek.example", "")).await.unwrap();
    for (days, status) in [(6, StatusCode::OK), (8, StatusCode::GONE)] {
        let base = start_at(pool.clone(), Utc::now() + Duration::days(days)).await;
        assert_eq!(Visitor::new(&base).get(path(&link)).await.status, status, "after {days} days");
    }
}

/// The letter in a folder, once it was written.
async fn letter(folder: &std::path::Path) -> String {
    for _ in 0..200 {
        let found = std::fs::read_dir(folder).ok().and_then(|mut d| d.next());
        if let Some(text) =
            found.and_then(|f| std::fs::read_to_string(f.unwrap().path()).ok()).filter(|t| !t.is_empty())
        {
            return text;
        }
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    panic!("no letter came");
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn a_forgotten_password_is_set_anew_by_a_letter(pool: Pool) {
    let trainer = world(&pool, DESK).await.trainer;
    let folder = std::env::temp_dir().join(bavrek_store::new_id().to_string());
    let base = serve(App { outbox: to_folder(&folder), ..app_at(pool.clone(), Utc::now()) }).await;
    let inside = Visitor::signed_in(&base, DESK).await;
    let mut visitor = Visitor::new(&base);
    visitor.csrf = visitor.get("/forgotten").await.hidden("csrf");
    let unknown = visitor.post("/forgotten", &[("email", "nobody@bavrek.example")]).await;
    let known = visitor.post("/forgotten", &[("email", DESK)]).await;
    let words = |page: &Page| page.text.contains("If there is an account with this address, a link is on its way");
    assert!(words(&unknown) && words(&known) && unknown.status == known.status, "nobody learns who has an account");
    let letter = letter(&folder).await;
    let link = letter.lines().find(|l| l.starts_with("http://bavrek.example/reset/")).unwrap();
    let kept = outbox::all(&pool, trainer).await.unwrap();
    assert_eq!(kept.len(), 1, "one letter, to the one who has an account");
    assert!(!kept[0].1.body.contains(link), "what is kept does not open");
    assert!(inside.get("/outbox").await.text.contains("A new password for Bavrek"));

    visitor.csrf = visitor.get(path(link)).await.hidden("csrf");
    assert_refused(&visitor.post(path(link), &[("new_password", NEW), ("again", "no")]).await, "is not the same", "");
    assert_eq!(visitor.post(path(link), &NEW_TWICE).await.address, "/sign-in");
    assert_eq!(visitor.get(path(link)).await.status, StatusCode::GONE);
    assert_eq!(inside.get("/account").await.address, "/sign-in", "whoever was signed in is out");
    assert_eq!(Visitor::new(&base).signs_in(DESK, PASSWORD).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(Visitor::new(&base).signs_in(DESK, NEW).await.address, "/");
    std::fs::remove_dir_all(folder).unwrap();
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn a_colleague_is_invited_by_a_letter(pool: Pool) {
    let trainer = world(&pool, DESK).await.trainer;
    let folder = std::env::temp_dir().join(bavrek_store::new_id().to_string());
    let base = serve(App { outbox: to_folder(&folder), ..app_at(pool.clone(), Utc::now()) }).await;
    let mut inside = Visitor::signed_in(&base, DESK).await;
    inside.csrf = inside.get("/account").await.hidden("csrf");
    assert_refused(
        &inside.post("/account/invite", &[("colleague", "someone")]).await,
        "is no e-mail address",
        "someone",
    );
    let words = "If this address has no account yet, an invitation is on its way.";
    for address in [DESK, "colleague@bavrek.example"] {
        let page = inside.post("/account/invite", &[("colleague", address)]).await;
        assert!(page.status == StatusCode::OK && page.text.contains(words), "{}", page.text);
    }
    let kept = outbox::all(&pool, trainer).await.unwrap();
    assert_eq!(kept.len(), 1, "whoever has an account gets no letter");
    assert_eq!(kept[0].1.recipient, "colleague@bavrek.example");
    let letter = letter(&folder).await;
    let link = letter.lines().find(|l| l.starts_with("http://bavrek.example/join/")).unwrap();
    assert!(!kept[0].1.body.contains(link), "what is kept does not open");
    let mut colleague = Visitor::new(&base);
    colleague.csrf = colleague.get(path(link)).await.hidden("csrf");
    let joined = colleague.post(path(link), &[&[("name", "Colleague")][..], &NEW_TWICE].concat()).await;
    assert_eq!((joined.status, joined.address.as_str()), (StatusCode::OK, "/"));
    std::fs::remove_dir_all(folder).unwrap();
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn a_changed_password_signs_every_other_device_out(pool: Pool) {
    world(&pool, DESK).await;
    let base = start(pool.clone()).await;
    let (mut here, there) = (Visitor::signed_in(&base, DESK).await, Visitor::signed_in(&base, DESK).await);
    let wrong = [&[("password", "not this one")][..], &NEW_TWICE].concat();
    assert_refused(&here.post("/account/password", &wrong).await, "is not the password of this account", "");
    let trainer = trainers::by_email(&pool, DESK).await.unwrap().unwrap();
    accounts::allow_reset(&pool, "a link on its way", (trainer.id, DESK), Utc::now()).await.unwrap();
    let page = here.post("/account/password", &[&[("password", PASSWORD)][..], &NEW_TWICE].concat()).await;
    let link = accounts::open(&pool, "a link on its way", Utc::now()).await.unwrap();
    assert_eq!(link, None, "a link to another password opens no more");
    assert!(page.status == StatusCode::OK && page.text.contains("The password is changed"));
    here.csrf = page.hidden("csrf");
    assert_eq!(here.get("/account").await.address, "/account");
    assert_eq!(there.get("/account").await.address, "/sign-in");
    assert_eq!(here.post("/account/name", &[("name", "Zed Rowan")]).await.status, StatusCode::OK);
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn devices_are_listed_and_signed_out_each_and_all(pool: Pool) {
    let world = world(&pool, DESK).await;
    let base = start(pool.clone()).await;
    let here = Visitor::signed_in(&base, DESK).await;
    let others = [Visitor::signed_in(&base, DESK).await, Visitor::signed_in(&base, DESK).await];
    let devices = accounts::devices(&pool, world.trainer, &here.cookie("bavrek")).await.unwrap();
    assert_eq!((devices.len(), devices.iter().filter(|d| d.here).count()), (3, 1));
    let other = accounts::devices(&pool, world.trainer, &others[0].cookie("bavrek")).await.unwrap();
    let handle = other.iter().find(|d| d.here).unwrap().handle;
    // Another trainer's device is nobody's to sign out.
    crate::common::world(&pool, "b@bavrek.example").await;
    let stranger = Visitor::signed_in(&base, "b@bavrek.example").await;
    stranger.post(&format!("/account/devices/{handle}"), &[]).await;
    assert_eq!(others[0].get("/account").await.address, "/account");
    here.post(&format!("/account/devices/{handle}"), &[]).await;
    assert_eq!(others[0].get("/account").await.address, "/sign-in");
    assert_eq!(others[1].get("/account").await.address, "/account");
    here.post("/account/devices/others", &[]).await;
    assert_eq!(others[1].get("/account").await.address, "/sign-in");
    assert_eq!(here.get("/account").await.address, "/account");
    assert_eq!(stranger.get("/account").await.address, "/account");
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn a_closed_account_lets_nobody_in_and_loses_nothing(pool: Pool) {
    world(&pool, DESK).await;
    let base = start(pool.clone()).await;
    let inside = Visitor::signed_in(&base, DESK).await;
    let clients = count(&pool, "select count(*) from clients").await;
    accounts::set_disabled(&pool, "A@bavrek.example", Some(now())).await.unwrap();
    assert_eq!(inside.get("/account").await.address, "/sign-in");
    assert_eq!(Visitor::new(&base).signs_in(DESK, PASSWORD).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    accounts::set_disabled(&pool, DESK, None).await.unwrap();
    assert_eq!(Visitor::new(&base).signs_in(DESK, PASSWORD).await.address, "/");
    assert!(clients > 0 && count(&pool, "select count(*) from clients").await == clients);
}

/// The code that a device with this key shows.
fn shown(key: &str, at: DateTime<Utc>) -> String {
    let secret = Secret::Encoded(key.replace(' ', "")).to_bytes().unwrap();
    TOTP::new(Algorithm::SHA1, 6, 0, 30, secret).unwrap().generate(at.timestamp() as u64)
}

/// Sets the second step up; the key and the recovery codes.
async fn second_step(visitor: &Visitor, at: DateTime<Utc>) -> (String, Vec<String>) {
    let page = visitor.get("/account/code").await;
    let between = |text: &str, from: &str, to: &str| -> String {
        text.split(from).nth(1).unwrap().split(to).next().unwrap().trim().to_owned()
    };
    let key = between(&page.text, "<p class=\"figure key\">", "</p>");
    let code = shown(&key, at);
    assert_refused(
        &visitor.post("/account/code", &[("code", "000000"), ("password", PASSWORD)]).await,
        "is not the code of now",
        &key,
    );
    assert_refused(
        &visitor.post("/account/code", &[("code", &code), ("password", "no")]).await,
        "is not the password",
        &key,
    );
    let page = visitor.post("/account/code", &[("code", &code), ("password", PASSWORD)]).await;
    assert_eq!(page.status, StatusCode::OK);
    let list = between(&page.text, "<ul class=\"recovery figure\">", "</ul>");
    let codes = list.split("<li>").skip(1).map(|c| c.split('<').next().unwrap().to_owned()).collect();
    (key, codes)
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn the_second_step_takes_a_code_once_or_a_recovery_code_once(pool: Pool) {
    world(&pool, DESK).await;
    let base = start(pool.clone()).await;
    let (key, recovery) = second_step(&Visitor::signed_in(&base, DESK).await, now()).await;
    assert_eq!(recovery.len(), 8);
    let later = now() + Duration::seconds(60);
    let base = start_at(pool.clone(), later).await;
    let half = async || {
        let mut visitor = Visitor::new(&base);
        let page = visitor.signs_in(DESK, PASSWORD).await;
        assert_eq!(page.address, "/sign-in/code");
        assert_eq!(visitor.get("/account").await.address, "/sign-in", "half way is not in");
        visitor
    };
    let visitor = half().await;
    assert_refused(
        &visitor.post("/sign-in/code", &[("code", &shown(&key, now()))]).await,
        "is not the code of now",
        "",
    );
    assert_eq!(visitor.post("/sign-in/code", &[("code", &shown(&key, later))]).await.address, "/");
    let visitor = half().await;
    assert_refused(
        &visitor.post("/sign-in/code", &[("code", &shown(&key, later))]).await,
        "is not the code of now",
        "",
    );
    assert_eq!(visitor.post("/sign-in/code", &[("code", &recovery[0].to_uppercase())]).await.address, "/");
    assert!(visitor.get("/account").await.text.contains("<span class=\"figure\">7</span>"));
    let visitor = half().await;
    assert_refused(&visitor.post("/sign-in/code", &[("code", &recovery[0])]).await, "is not the code of now", "");
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn guesses_at_the_second_step_are_slowed_down_and_it_is_ended_by_the_password(pool: Pool) {
    world(&pool, DESK).await;
    let base = start(pool.clone()).await;
    let mut inside = Visitor::signed_in(&base, DESK).await;
    second_step(&inside, now()).await;
    let mut visitor = Visitor::new(&base);
    visitor.signs_in(DESK, PASSWORD).await;
    for guess in 1..=7 {
        let status = visitor.post("/sign-in/code", &[("code", "123456")]).await.status;
        assert_eq!(status == StatusCode::TOO_MANY_REQUESTS, guess > 6, "guess {guess}: {status}");
    }
    inside.csrf = inside.get("/account").await.hidden("csrf");
    assert_refused(&inside.post("/account/code/off", &[("off_password", "no")]).await, "is not the password", "");
    assert_eq!(inside.post("/account/code/off", &[("off_password", PASSWORD)]).await.address, "/account");
    let trainer = trainers::by_email(&pool, DESK).await.unwrap().unwrap();
    assert_eq!((trainer.code_secret, accounts::recovery_left(&pool, trainer.id).await.unwrap()), (None, 0));
}

/// Whoever sends a form after the sign-in ended is led to the door and from there to the page that holds the form; a part that was
/// to be swapped takes the whole page there.
#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn a_form_that_meets_an_ended_sign_in_leads_to_the_door_and_back(pool: Pool) {
    let world = world(&pool, DESK).await;
    let base = start(pool.clone()).await;
    let mut visitor = Visitor::signed_in(&base, DESK).await;
    sqlx::query("delete from http_sessions").execute(&pool).await.unwrap();
    let form = format!("/clients/{}/limits", world.client);
    let page = visitor.post(&form, &[("joint", "elbow")]).await;
    assert_eq!((page.status, page.address.as_str()), (StatusCode::OK, "/sign-in"));
    assert_eq!(page.hidden("next"), form);
    assert_eq!(count(&pool, "select count(*) from limits").await, 0);
    visitor.csrf = page.hidden("csrf");
    let fields = [("email", DESK), ("password", PASSWORD), ("next", form.as_str())];
    assert_eq!(visitor.post("/sign-in", &fields).await.address, form);

    let stranger = Visitor::new(&base);
    let swapped = stranger.swap(&format!("/clients/{}/aims?region=lats", world.client)).await;
    assert_eq!(swapped.status(), StatusCode::UNAUTHORIZED);
    let to = swapped.headers()["hx-redirect"].to_str().unwrap().to_owned();
    assert_eq!(to, format!("/sign-in?next=%2Fclients%2F{}%2Faims%3Fregion%3Dlats", world.client));
    assert!(swapped.text().await.unwrap().is_empty());
}
