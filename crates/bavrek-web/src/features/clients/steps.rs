//! The order in which a client is taken in, as tabs over every page about one.

use bavrek_store::TrainerId;
use bavrek_store::clients::{self, Progress};
use uuid::Uuid;

use crate::error::WebError;
use crate::state::App;

/// A page about a client.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(in crate::features) enum Step {
    Overview,
    Profile,
    Health,
    Limits,
    Places,
    Aims,
    Strength,
    Notes,
    Review,
    Data,
}

impl Step {
    const ALL: [(Self, &'static str, &'static str); 10] = [
        (Self::Overview, "", "Overview"),
        (Self::Profile, "/profile", "Profile"),
        (Self::Health, "/health", "Health"),
        (Self::Limits, "/limits", "Limits"),
        (Self::Places, "/places", "Places"),
        (Self::Aims, "/aims", "Aims"),
        (Self::Strength, "/strength", "Strength"),
        (Self::Notes, "/notes", "Notes"),
        (Self::Review, "/review", "Review"),
        (Self::Data, "/data", "Data"),
    ];

    /// The address of the page.
    pub(in crate::features) fn href(self, client: Uuid) -> String {
        let tail = Self::ALL.iter().find(|(s, ..)| *s == self).map_or("", |(_, tail, _)| tail);
        format!("/clients/{client}{tail}")
    }

    const fn open(self, progress: Progress) -> bool {
        match self {
            Self::Health => !progress.screened,
            Self::Places => !progress.placed,
            Self::Aims => !progress.aimed,
            Self::Strength => !progress.tried,
            _ => false,
        }
    }
}

/// A tab.
pub(in crate::features) struct StepView {
    pub(in crate::features) href: String,
    pub(in crate::features) label: &'static str,
    pub(in crate::features) on: bool,
    /// Not done yet.
    pub(in crate::features) open: bool,
}

/// The tabs, with the one in use and those that are still to be done.
pub(in crate::features) async fn steps(
    app: &App,
    trainer: TrainerId,
    client: Uuid,
    now: Step,
) -> Result<Vec<StepView>, WebError> {
    Ok(tabs(client, now, clients::progress(&app.pool, trainer, client).await?))
}

/// The same where it is known already how far the client was taken in.
pub(in crate::features) fn tabs(client: Uuid, now: Step, progress: Progress) -> Vec<StepView> {
    Step::ALL
        .iter()
        .map(|(step, _, label)| StepView {
            href: step.href(client),
            label,
            on: *step == now,
            open: step.open(progress),
        })
        .collect()
}
