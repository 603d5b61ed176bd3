//! A load that is asked as a relation, in words with figures.

use std::fmt::{self, Display, Formatter};

use crate::dose::{Other, Relation};
use crate::fit::{Compared, Comparison, Found, Met, Related};
use crate::units::Kilograms;

impl Display for Comparison {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let Self { asked, .. } = self;
        let what = asked.text();
        match self.related {
            Some(Related::Found(Found { of, wanted, met })) => {
                write!(f, "{}: ", asked_in_figures(asked, of, wanted))?;
                self.but(met, f)
            }
            Some(Related::Parts) => write!(f, "{what} was asked: of this step it is {:.0} %", 100.0 * self.band_share),
            Some(Related::MixTooHeavy) => {
                write!(f, "{what} was asked: it begins with less than the lightest step of both here")?;
                self.lightest_of_both.map_or(Ok(()), |lightest| write!(f, ", {lightest:.1}"))
            }
            Some(Related::NoMix) => {
                write!(f, "{what} was asked, and nothing here adds a band to a weight in it: the usual steps")
            }
            Some(why @ (Related::NothingLogged | Related::Itself | Related::Unlike)) => {
                write!(f, "{what} was asked, {}: the reps decide", nothing_to_compare(why, asked))
            }
            None => {
                let done = if self.held { "held" } else { "resisted" };
                write!(f, "{what} was asked: nobody can state the load of what is {done}, so it does not count here")
            }
        }
    }
}

impl Comparison {
    /// What became of a load that is known.
    fn but(&self, met: Met, f: &mut Formatter<'_>) -> fmt::Result {
        let no_heavier = "so it begins no heavier than the estimate for the reps allows";
        match met {
            Met::Nearest => write!(f, "this step is {:.1}", self.step),
            Met::TooHeavy => {
                write!(f, "{} reps cannot be done on that, so the step is the one for the reps", self.fewest)
            }
            Met::Unknown => write!(f, "no set of it is logged yet, {no_heavier}"),
            Met::Torn => write!(f, "its sets disagree, {no_heavier}"),
            Met::Away { days } => write!(f, "{days} days since it was last trained, {no_heavier}"),
            Met::Spared => write!(f, "a joint is spared in it, {no_heavier}"),
            Met::NothingSoLight => f.write_str("even the lightest step here is heavier"),
            Met::NoSuchStep => write!(f, "there are not so many here, this step is {:.1}", self.step),
        }
    }
}

/// Why there is nothing to compare a load with, in words that follow what was asked.
pub(super) fn nothing_to_compare(why: Related, asked: &Relation) -> String {
    match why {
        Related::Itself => "which is this movement itself".to_owned(),
        Related::Unlike => "and one of the two lifts the body, the other what is held".to_owned(),
        _ => {
            let other = asked.other().map(Other::name).unwrap_or_default();
            format!("and nothing is logged of {other} that a load can be read from")
        }
    }
}

/// What a relation asks today in figures: `80 % of a maximum of about 34.0 is 27.2`, `50 % of the 24.0 that dumbbell bench press was done
/// with on 5 Mar is 12.0`.
pub(super) fn asked_in_figures(asked: &Relation, of: Compared, wanted: Option<[Kilograms; 2]>) -> String {
    let wanted = wanted.map_or_else(String::new, |wanted| {
        let [least, most] = wanted.map(Kilograms::two_figures);
        if (least.value() - most.value()).abs() < 0.05 {
            format!(" is {least:.1}")
        } else {
            format!(" is {least:.1} to {most:.1}")
        }
    });
    let share = asked.share_text();
    let Some((done, day)) = of.done else {
        return format!("{share} of a maximum of about {:.1}{wanted}", of.load.two_figures());
    };
    let other = asked.other().map(Other::name).unwrap_or_default();
    let joined = if matches!(asked, Relation::StepsFrom { .. }) { "" } else { " of" };
    // Where one is held by both hands and the other is not, both ways of telling a load are said.
    let (hands, as_here) = match of.load.value() / done.value() {
        less if less < 0.9 => (" in all", format!(", {:.1} each hand,", of.load)),
        more if more > 1.1 => (" each hand", format!(", {:.1} in all,", of.load)),
        _ => ("", String::new()),
    };
    format!(
        "{share}{joined} the {done:.1}{hands} that {other} was done with on {}{as_here}{wanted}",
        day.format("%-d %b")
    )
}
