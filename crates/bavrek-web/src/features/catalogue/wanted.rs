//! What is looked for in the catalogue, and what is found.

use bavrek_core::anatomy::{ArmPosition, Implement, LengthEmphasis, Pattern, Region};
use bavrek_core::fit::{Why, ruled_out};
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::Missing;
use bavrek_core::mechanics::profile::emphasis;
use bavrek_core::movement::{Catalogue, GymMovement, Movement};
use bavrek_core::person::Person;
use bavrek_core::reading::{Names, plain_word};
use serde::Deserialize;
use std::sync::Arc;
use uuid::Uuid;

use crate::state::App;

/// The filters, as they stand in the address.
#[derive(Debug, Clone, Default, Deserialize)]
pub(super) struct Wanted {
    #[serde(default)]
    pub(super) q: String,
    #[serde(default)]
    pub(super) pattern: String,
    #[serde(default)]
    pub(super) region: String,
    #[serde(default)]
    pub(super) implement: String,
    #[serde(default)]
    pub(super) arm: String,
    #[serde(default)]
    pub(super) emphasis: String,
    /// A client's place: its kit and the client's limits rule movements out.
    #[serde(default)]
    pub(super) place: String,
    /// Whether what is ruled out is shown as well.
    #[serde(default)]
    pub(super) all: String,
    #[serde(default)]
    pub(super) page: String,
    /// The movement taken out just now, which can come back.
    #[serde(default)]
    pub(super) removed: Option<Uuid>,
}

impl Wanted {
    pub(super) fn place_id(&self) -> Option<Uuid> {
        self.place.parse().ok()
    }

    pub(super) fn show_all(&self) -> bool {
        self.all == "on"
    }

    /// The filters as a query without the page.
    pub(super) fn query(&self) -> Vec<(&'static str, &str)> {
        let all = [
            ("q", &self.q),
            ("pattern", &self.pattern),
            ("region", &self.region),
            ("implement", &self.implement),
            ("arm", &self.arm),
            ("emphasis", &self.emphasis),
            ("place", &self.place),
            ("all", &self.all),
        ];
        all.into_iter().filter(|(_, v)| !v.is_empty()).map(|(k, v)| (k, v.as_str())).collect()
    }
}

/// A movement that was found.
pub(super) struct Found<'a> {
    pub(super) movement: &'a Movement,
    pub(super) thirds: Option<[f64; 3]>,
    /// The other name by which it was found.
    pub(super) synonym: Option<&'a str>,
    pub(super) why_not: Vec<Why>,
    rank: u8,
}

/// All that was found, and how many a room or a client rules out.
pub(super) struct Search<'a> {
    pub(super) found: Vec<Found<'a>>,
    pub(super) ruled_out: usize,
    /// Whether nothing is called what was typed, and what was found is only near it.
    pub(super) only_near: bool,
    /// Movements of a gym that the words name as well, or are near.
    pub(super) gym: Vec<&'a GymMovement>,
}

/// A room with who trains in it.
pub(super) struct Room {
    pub(super) person: Person,
    pub(super) kit: Vec<KitItem>,
}

pub(super) fn search<'a>(app: &'a App, wanted: &Wanted, room: Option<&Room>) -> Search<'a> {
    let catalogue: &Catalogue = &app.catalogue;
    let words = words(&wanted.q);
    let called =
        catalogue.movements.iter().filter_map(|m| rank(m, &words).map(|(rank, synonym)| (&**m, rank, synonym)));
    let mut called: Vec<_> = called.collect();
    let mut gym = gym_matches(catalogue, &wanted.q);
    let only_near = called.is_empty() && gym.is_empty();
    if called.is_empty() {
        // Misspelt, in the plural, or by a name that is none: what is near it.
        let near = Names::of(catalogue).nearest(&wanted.q, if gym.is_empty() { MOST_NEAR } else { 0 });
        let home = near.iter().filter(|m| !m.gym).filter_map(|m| catalogue.movement(m.id));
        called = home.enumerate().map(|(place, m)| (m, place as u8, None)).collect();
        gym.extend(near.iter().filter(|m| m.gym).filter_map(|m| catalogue.gym_movement(m.id)));
    }
    let mut found: Vec<Found<'a>> = called
        .into_iter()
        .filter(|(m, ..)| passes(m, wanted))
        .filter_map(|(m, rank, synonym)| {
            let thirds = app.library.thirds(catalogue, m);
            (wanted.emphasis.is_empty() || thirds.is_some_and(|t| hard_in(&t) == wanted.emphasis)).then_some(())?;
            Some(Found { movement: m, thirds, synonym, why_not: Vec::new(), rank })
        })
        .collect();
    if let Some(room) = room {
        for one in &mut found {
            one.why_not = ruled_out(one.movement, &room.person, &room.kit);
        }
    } else {
        for one in found.iter_mut().filter(|f| f.thirds.is_none()) {
            one.why_not = vec![Why::Missing(Missing::NoLoad)];
        }
    }
    let ruled_out = found.iter().filter(|f| !f.why_not.is_empty()).count();
    if room.is_some() && !wanted.show_all() {
        found.retain(|f| f.why_not.is_empty());
    }
    // Better matches first; equals stay in the order of the patterns.
    found.sort_by_key(|f| (f.rank, f.movement.pattern));
    Search { found, ruled_out, only_near, gym }
}

fn passes(movement: &Movement, wanted: &Wanted) -> bool {
    let open = |value: &str| value.is_empty();
    let region = Region::from_id(&wanted.region);
    (open(&wanted.pattern) || Pattern::from_id(&wanted.pattern) == Some(movement.pattern))
        && (open(&wanted.region) || region.is_some_and(|r| movement.direct.contains_key(&r)))
        && (open(&wanted.implement) || Implement::from_id(&wanted.implement).is_some_and(|i| movement.uses(i)))
        && (open(&wanted.arm) || ArmPosition::from_id(&wanted.arm) == Some(movement.arm_position))
}

/// Where in the length a movement is hard, as the filter names it.
fn hard_in(thirds: &[f64; 3]) -> &'static str {
    emphasis(thirds).map_or("even", LengthEmphasis::id)
}

/// Words in lower case; hyphens divide them like blanks.
fn words(text: &str) -> Vec<String> {
    text.to_lowercase().split(|c: char| !c.is_alphanumeric()).filter(|w| !w.is_empty()).map(str::to_owned).collect()
}

/// The same, each word in the singular and in its usual spelling.
fn plain_words(text: &str) -> Vec<String> {
    words(text).iter().map(|word| plain_word(word)).collect()
}

/// Whether a word begins one of a name's, as it was typed or in the singular.
fn begins_one(has: &[String], word: &str) -> bool {
    let plain = plain_word(word);
    has.iter().any(|h| h.starts_with(word) || h.starts_with(&plain))
}

/// How well a movement answers the words, smaller is better, and the synonym that does. None where some word is not
/// in any of its names, its pattern or its regions.
fn rank<'a>(movement: &'a Movement, wanted: &[String]) -> Option<(u8, Option<&'a str>)> {
    if wanted.is_empty() {
        return Some((0, None));
    }
    // How many words a text has beyond those that were typed; none where it lacks one of them.
    let beyond = |text: &str| {
        let has = words(text);
        let covered = wanted.iter().all(|w| begins_one(&has, w));
        covered.then(|| has.len().saturating_sub(wanted.len()).min(20) as u8)
    };
    let named = beyond(&movement.name).map(|n| (n, None));
    let synonyms = movement.synonyms.iter().filter_map(|s| Some((beyond(s)?, Some(s.as_str()))));
    let best = named.into_iter().chain(synonyms).min_by_key(|(n, _)| *n);
    best.or_else(|| {
        let regions = movement.direct.keys().map(|r| r.label()).collect::<Vec<_>>().join(" ");
        let rest = format!("{} {} {regions} {}", movement.name, movement.synonyms.join(" "), movement.pattern.label());
        beyond(&rest).map(|_| (30, None))
    })
}

/// Most names that an ambiguous one is answered with, and one that is none.
const MOST_NAMES: usize = 4;
const MOST_NEAR: usize = 3;

/// Why a typed name is no movement's.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(in crate::features) struct Unclear<'a> {
    /// Whether several are called so; otherwise nothing is.
    several: bool,
    /// Those, or the nearest to it.
    pub(in crate::features) names: Vec<&'a str>,
}

impl Unclear<'_> {
    /// In words, with what was typed.
    pub(in crate::features) fn says(&self, text: &str) -> String {
        match (self.several, self.names.is_empty()) {
            (true, _) => format!("which one is “{text}”: {}?", self.names.join("; ")),
            (false, true) => format!("no movement is called “{text}”"),
            (false, false) => format!("no movement is called “{text}”; near it: {}", self.names.join("; ")),
        }
    }
}

/// The movement that a typed name means: the one that is called so, or the only one whose names have these words. The
/// nearest names where that is not clear.
pub(in crate::features) fn named<'a>(catalogue: &'a Catalogue, text: &str) -> Result<&'a Movement, Unclear<'a>> {
    let wanted = words(text);
    if let Some(movement) = catalogue.movement(text.trim()) {
        return Ok(movement);
    }
    let movements = || catalogue.movements.iter().filter(|_| !wanted.is_empty()).map(Arc::as_ref);
    let called = |as_is: fn(&str) -> Vec<String>| {
        let wanted = as_is(text);
        let is = move |name: &str| as_is(name) == wanted;
        movements().filter(move |m| is(&m.name) || m.synonyms.iter().any(|s| is(s))).collect::<Vec<_>>()
    };
    let mut found: Vec<(u8, &Movement)> = movements().filter_map(|m| Some((rank(m, &wanted)?.0, m))).collect();
    found.sort_by_key(|(rank, m)| (*rank, m.pattern));
    // In the plural or with a known slip it is the same name, unless a name is spelt just so.
    let exact = Some(called(words)).filter(|exact| !exact.is_empty()).unwrap_or_else(|| called(plain_words));
    match (&exact[..], &found[..]) {
        ([only], _) | ([], [(_, only)]) => Ok(only),
        ([], []) => Err(Unclear { several: false, names: near(catalogue, text) }),
        _ => {
            let names = found.into_iter().take(MOST_NAMES).map(|(_, m)| m.name.as_str()).collect();
            Err(Unclear { several: true, names })
        }
    }
}

/// The names of the movements that are nearest to one that nothing has.
fn near<'a>(catalogue: &'a Catalogue, text: &str) -> Vec<&'a str> {
    let near = Names::of(catalogue).nearest(text, MOST_NAMES + MOST_NEAR);
    near.iter().filter_map(|m| catalogue.movement(m.id)).take(MOST_NEAR).map(|m| m.name.as_str()).collect()
}

/// Movements of a gym whose names have all these words, the shortest names first.
fn gym_matches<'a>(catalogue: &'a Catalogue, text: &str) -> Vec<&'a GymMovement> {
    let wanted = words(text);
    let has = |name: &str| {
        let has = words(name);
        wanted.iter().all(|w| begins_one(&has, w))
    };
    let mut found: Vec<_> = catalogue
        .gym
        .values()
        .filter(|g| !wanted.is_empty() && (has(&g.name) || g.synonyms.iter().any(|s| has(s))))
        .collect();
    found.sort_by_key(|g| g.name.len());
    found.truncate(MOST_NAMES);
    found
}

/// The movement of a gym that is called so, by its name or another of its names.
pub(in crate::features) fn gym_named<'a>(catalogue: &'a Catalogue, text: &str) -> Option<&'a GymMovement> {
    let wanted = words(text);
    let called = |g: &&GymMovement| words(&g.name) == wanted || g.synonyms.iter().any(|s| words(s) == wanted);
    // A movement that can be done here goes before one that only shares another name with it.
    let home =
        catalogue.movements.iter().any(|m| words(&m.name) == wanted || m.synonyms.iter().any(|s| words(s) == wanted));
    let by_name = catalogue.gym.values().find(|g| words(&g.name) == wanted);
    by_name.or_else(|| catalogue.gym.values().find(called).filter(|_| !home))
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case::a_common_name("skull crusher", "supine_dumbbell_extension")]
    #[case::hyphen_or_not("decline push up", "feet_raised_push_up")]
    #[case::the_start_of_words("lat rai", "side_raise")]
    #[case::the_plural("pike push-ups", "pike_push_up")]
    #[case::the_plural_of_a_fly("chest flies", "dumbbell_bench_fly")]
    #[case::the_name_itself("Standing dumbbell curl", "dumbbell_curl")]
    fn what_is_meant_comes_first(#[case] text: &str, #[case] expected: &str) {
        let catalogue = bavrek_catalogue::load().unwrap();
        let wanted = words(text);
        let best = catalogue.movements.iter().filter_map(|m| Some((rank(m, &wanted)?.0, &m.id))).min();
        assert_eq!(best.map(|(_, id)| id.as_str()), Some(expected));
    }

    #[rstest]
    #[case("standing dumbbell curl", Ok("dumbbell_curl"))]
    #[case("dumbbell_curl", Ok("dumbbell_curl"))]
    #[case("skull crusher", Ok("supine_dumbbell_extension"))]
    #[case("", Err(0))]
    #[case("knitting", Err(MOST_NEAR))]
    #[case("standing dumbell curls", Ok("dumbbell_curl"))]
    #[case("skull crushers", Ok("supine_dumbbell_extension"))]
    #[case("standing dumbbel crul", Err(MOST_NEAR))]
    #[case("press", Err(MOST_NAMES))]
    fn a_typed_name_is_clear_or_answered_with_others(#[case] text: &str, #[case] expected: Result<&str, usize>) {
        let catalogue = bavrek_catalogue::load().unwrap();
        assert_eq!(named(&catalogue, text).map(|m| m.id.as_str()).map_err(|unclear| unclear.names.len()), expected);
    }

    /// A name that a movement at home has as well means that one.
    #[rstest]
    #[case("lat pulldown", Some("lat_pulldown"))]
    #[case("butterfly", Some("fly_machine"))]
    #[case("Barbell press on a flat bench", Some("barbell_bench_press"))]
    #[case("bench press", None)]
    #[case("skull crusher", None)]
    #[case("pulldown with", None)]
    #[case("", None)]
    fn a_gym_movement_is_meant_by_its_own_names(#[case] text: &str, #[case] expected: Option<&str>) {
        let catalogue = bavrek_catalogue::load().unwrap();
        assert_eq!(gym_named(&catalogue, text).map(|g| g.id.as_str()), expected);
    }

    #[rstest]
    #[case("pulldown", "one_arm_pulldown")]
    #[case("close pulldown", "close_pulldown")]
    #[case("crossover", "cable_fly")]
    #[case("knitting", "")]
    #[case("", "")]
    fn gym_movements_are_searched_by_words(#[case] text: &str, #[case] among: &str) {
        let catalogue = bavrek_catalogue::load().unwrap();
        let found = gym_matches(&catalogue, text);
        assert!(found.len() <= MOST_NAMES);
        let ids: Vec<&str> = found.iter().map(|g| g.id.as_str()).collect();
        assert_eq!(ids.contains(&among), !among.is_empty(), "{ids:?}");
    }

    #[test]
    fn every_word_must_be_met() {
        let catalogue = bavrek_catalogue::load().unwrap();
        let curl = catalogue.movement("dumbbell_curl").unwrap();
        assert!(rank(curl, &words("curl press")).is_none());
        assert_eq!(rank(curl, &words("biceps curl")), Some((0, Some("biceps curl"))));
    }

    #[rstest]
    #[case([0.42, 0.39, 0.19], "lengthened")]
    #[case([0.18, 0.60, 0.22], "middle")]
    #[case([0.15, 0.36, 0.49], "shortened")]
    #[case([0.34, 0.33, 0.33], "even")]
    fn emphasis_goes_by_the_largest_third(#[case] thirds: [f64; 3], #[case] expected: &str) {
        assert_eq!(hard_in(&thirds), expected);
    }
}
