//! Accounts on the command line.

use std::process::Command;

use bavrek_store::{Pool, accounts, trainers};

/// What the program says to such a line: whether it succeeded, and its output or its error.
fn says(pool: &Pool, line: &[&str]) -> (bool, String) {
    let url = std::env::var("DATABASE_URL").unwrap();
    let (server, _) = url.rsplit_once('/').unwrap();
    let database = pool.connect_options().get_database().unwrap().to_owned();
    let done = Command::new(env!("CARGO_BIN_EXE_bavrek"))
        .args(["trainer", "--address", "https://bavrek.example"])
        .args(line)
        .env("BAVREK_DATABASE_URL", format!("{server}/{database}"))
        .output()
        .unwrap();
    let said = if done.status.success() { done.stdout } else { done.stderr };
    (done.status.success(), String::from_utf8(said).unwrap().trim().to_owned())
}

#[sqlx::test(migrator = "bavrek_store::MIGRATOR")]
async fn a_trainer_is_invited_listed_closed_and_let_back(pool: Pool) {
    let (done, link) = says(&pool, &["add", "nell@bavrek.example", "--name", "Nell Marsh"]);
    let secret = link.strip_prefix("https://bavrek.example/join/").unwrap_or_else(|| panic!("{link}"));
    assert!(done && secret.len() == 64);
    let opened = accounts::open(&pool, secret, chrono::Utc::now()).await.unwrap().unwrap();
    assert_eq!((opened.email.as_str(), opened.name.as_str()), ("nell@bavrek.example", "Nell Marsh"));
    accounts::join(&pool, secret, ("Nell Marsh", "no hash"), chrono::Utc::now()).await.unwrap();

    assert_eq!(says(&pool, &["list"]), (true, "nell@bavrek.example\tNell Marsh\t0 clients\tnot signed in".into()));
    let (done, told) = says(&pool, &["add", "NELL@bavrek.example"]);
    assert!(!done && told.contains("NELL@bavrek.example has an account"), "{told}");
    assert!(says(&pool, &["disable", "nell@bavrek.example"]).0);
    assert!(trainers::by_email(&pool, "nell@bavrek.example").await.unwrap().is_none());
    assert!(says(&pool, &["list"]).1.contains("closed since "));
    let (done, told) = says(&pool, &["reset-link", "nell@bavrek.example"]);
    assert!(!done && told.contains("there is no open account"), "{told}");
    assert!(says(&pool, &["enable", "nell@bavrek.example"]).0);

    let trainer = trainers::by_email(&pool, "nell@bavrek.example").await.unwrap().unwrap();
    accounts::set_second_step(&pool, trainer.id, Some(b"12345678901234567890"), &["code".into()]).await.unwrap();
    let (done, link) = says(&pool, &["reset-link", "nell@bavrek.example", "--without-second-step"]);
    assert!(done && link.starts_with("https://bavrek.example/reset/"), "{link}");
    assert!(trainers::by_id(&pool, trainer.id).await.unwrap().unwrap().code_secret.is_none());
    for line in [&["disable", "nobody@bavrek.example"][..], &["enable", "nobody@bavrek.example"], &["add", "nobody"]] {
        let (done, told) = says(&pool, line);
        assert!(!done && told.starts_with("bavrek: "), "{line:?}: {told}");
    }
}
