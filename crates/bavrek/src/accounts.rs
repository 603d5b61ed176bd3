//! Accounts on the command line: who runs the program invites, lists, closes and helps out.

use bavrek_store::tokens::{self, Scope};
use bavrek_store::{Pool, StoreError, accounts, trainers};
use bavrek_web::App;
use chrono::Utc;
use clap::Subcommand;

/// What is done about accounts.
#[derive(Subcommand)]
pub(crate) enum What {
    /// Invite a trainer: prints a link by which the account is made. It opens once, for seven days.
    Add {
        /// The address to sign in with.
        email: String,
        /// The name shown; the trainer can change it.
        #[arg(long, default_value = "")]
        name: String,
    },
    /// All accounts.
    List,
    /// Print a link by which a trainer sets a new password. It opens once, for an hour.
    ResetLink {
        /// The account's address.
        email: String,
        /// Ask for no code after the password any more: for a device that was lost together with its recovery codes.
        #[arg(long)]
        without_second_step: bool,
    },
    /// Print a token by which a program works for a trainer. It is shown this once.
    Token {
        /// The account's address.
        email: String,
        /// What it is for.
        #[arg(long, default_value = "made by the operator")]
        name: String,
        /// What it may: read, write, compute.
        #[arg(long, value_delimiter = ',', default_value = "read")]
        may: Vec<String>,
        /// The last day on which it opens.
        #[arg(long)]
        until: Option<chrono::NaiveDate>,
    },
    /// Close an account: nobody signs in to it, whoever is signed in is out. Nothing is deleted.
    Disable {
        /// The account's address.
        email: String,
    },
    /// Open a closed account again.
    Enable {
        /// The account's address.
        email: String,
    },
}

/// Does it.
pub(crate) async fn run(pool: &Pool, address: &str, what: What) -> anyhow::Result<()> {
    match what {
        What::Add { email, name } => {
            anyhow::ensure!(email.contains('@') && email.chars().count() <= 200, "{email:?} is no e-mail address");
            anyhow::ensure!(name.chars().count() <= 120, "a name has at most 120 characters");
            let link = bavrek_web::invite(pool, address, (&email, &name)).await;
            let link = link.map_err(|e| match e {
                StoreError::Conflict => anyhow::anyhow!("{email} has an account"),
                other => other.into(),
            })?;
            println!("{link}");
        }
        What::List => list(pool).await?,
        What::ResetLink { email, without_second_step } => {
            let trainer = trainers::by_email(pool, &email).await?;
            let trainer = trainer.ok_or_else(|| anyhow::anyhow!("there is no open account {email}"))?;
            if without_second_step {
                accounts::set_second_step(pool, trainer.id, None, &[]).await?;
            }
            let secret = bavrek_web::new_secret();
            accounts::allow_reset(pool, &secret, (trainer.id, &trainer.email), Utc::now()).await?;
            println!("{address}/reset/{secret}");
        }
        What::Token { email, name, may, until } => {
            let trainer = trainers::by_email(pool, &email).await?;
            let trainer = trainer.ok_or_else(|| anyhow::anyhow!("there is no open account {email}"))?;
            let scopes = may.iter().map(|word| Scope::from_id(word).ok_or(word));
            let scopes: Vec<Scope> = scopes
                .collect::<Result<_, _>>()
                .map_err(|w| anyhow::anyhow!("{w:?} is not one of read, write, compute"))?;
            let secret = bavrek_web::new_token();
            let made = tokens::make(pool, trainer.id, (&name, &scopes, until), &secret, Utc::now()).await?;
            anyhow::ensure!(made, "{email} has as many tokens as there may be");
            println!("{secret}");
        }
        What::Disable { email } => known(&email, accounts::set_disabled(pool, &email, Some(Utc::now())).await)?,
        What::Enable { email } => known(&email, accounts::set_disabled(pool, &email, None).await)?,
    }
    Ok(())
}

fn known(email: &str, done: Result<(), StoreError>) -> anyhow::Result<()> {
    done.map_err(|e| match e {
        StoreError::NotFound => anyhow::anyhow!("there is no account {email}"),
        other => other.into(),
    })
}

async fn list(pool: &Pool) -> anyhow::Result<()> {
    for account in accounts::all(pool).await? {
        let state = match (account.disabled_at, account.seen_at) {
            (Some(since), _) => format!("closed since {}", since.date_naive()),
            (None, Some(seen)) => format!("last used {}", seen.date_naive()),
            (None, None) => "not signed in".to_owned(),
        };
        println!("{}\t{}\t{} clients\t{state}", account.email, account.name, account.clients);
    }
    Ok(())
}

/// Leads whoever starts the program on an empty database to the first account.
pub(crate) async fn welcome(app: &App) -> anyhow::Result<()> {
    if !accounts::any(&app.pool).await? {
        println!("There is no account yet. This makes an invitation: bavrek trainer add YOU@EXAMPLE.ORG");
    }
    Ok(())
}
