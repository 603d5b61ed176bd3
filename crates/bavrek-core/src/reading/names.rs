//! Which movement a written name means, and how surely.

use std::collections::{BTreeMap, BTreeSet, HashMap};

use super::words;
use crate::anatomy::Implement;
use crate::dose::{Other, Relation};
use crate::movement::{Catalogue, Movement, Station};
use crate::ranges::RangeError;

/// A movement that may be meant.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Match<'a> {
    /// Its identifier.
    pub id: &'a str,
    /// Whether it is one of a gym, which only serves as a reference.
    pub gym: bool,
    /// How surely it is meant, 0 to 1.
    pub confidence: f64,
}

/// Confidence below which nothing is chosen.
pub const SURE_ENOUGH: f64 = 0.5;
/// A gym's movement that is meant this much more surely leaves no movement of the catalogue, and the other way round.
const CLEARLY: f64 = 0.1;
/// Least confidence that is told at all; most matches that are.
const WORTH_TELLING: f64 = 0.3;
const MOST_MATCHES: usize = 5;
/// Confidence of a name that is written out, and of one that several movements share.
const CALLED_SO: f64 = 0.98;
const SHARED_NAME: f64 = 0.85;
/// Most for what is only like a name.
const ALIKE: f64 = 0.95;
/// Factor where the kit that was written cannot do it, and where a word contradicts.
const OTHER_KIT: f64 = 0.55;
const CONTRADICTED: f64 = 0.6;
/// Factor where the called name states a kit of which nothing was written.
const UNSAID_KIT: f64 = 0.8;
/// Worth of a word that is spelt a little differently.
const MISSPELT: f64 = 0.9;

/// Words of which a name has one at most: another says that something else is meant.
const EITHER_OR: &[&[&str]] = &[
    &["incline", "decline", "flat", "floor"],
    &["seated", "standing", "knee", "lying"],
    &["close", "wide"],
    &["underhand", "overhand", "neutral", "hammer"],
    &["front", "side", "rear"],
    &["pulldown", "pushdown", "pullup", "pushup", "pullover"],
    &["curl", "extension", "press", "row", "fly", "raise", "shrug"],
    &["lowhigh", "highlow"],
    &["feetraised", "handsraised"],
];

/// What is done: one of these makes a name a movement's.
const DONE: &[&str] = &[
    "curl",
    "extension",
    "press",
    "row",
    "fly",
    "raise",
    "shrug",
    "dip",
    "pushup",
    "pullover",
    "skullcrusher",
    "overheadpress",
];

/// A way of calling a movement.
struct Called<'a> {
    id: &'a str,
    gym: bool,
    words: BTreeSet<String>,
    /// What can carry it, as words.
    kit: &'a [&'static str],
}

/// All names of a catalogue, ready to be looked up.
pub struct Names<'a> {
    called: Vec<Called<'a>>,
    by_word: HashMap<String, Vec<usize>>,
    /// How much a word tells: rare ones more.
    tells: HashMap<String, f64>,
    /// What a word tells that is in no name.
    unknown: f64,
}

const DUMBBELL: &str = "dumbbell";
const BARBELL: &str = "barbell";
const BAND: &str = "band";
/// Kit that a written name may state.
const KIT_WORDS: &[&str] = &[
    DUMBBELL,
    BARBELL,
    BAND,
    "cable",
    "machine",
    "smith",
    "kettlebell",
    "ring",
    "backpack",
    "towel",
    "landmine",
    "bodyweight",
];

/// The kit words that go with a movement of the catalogue.
fn carried_by(movement: &Movement) -> &'static [&'static str] {
    let band = movement.uses(Implement::LoopBand) || movement.uses(Implement::TubeBand);
    match (movement.uses(Implement::Dumbbell), band) {
        _ if movement.uses(Implement::Barbell) => &[BARBELL],
        _ if movement.uses(Implement::Backpack) && !movement.uses(Implement::Dumbbell) => &["backpack"],
        // With bands alone it is another movement of the catalogue.
        (true, _) => &[DUMBBELL, "kettlebell"],
        (false, true) => &[BAND],
        (false, false) if movement.uses(Implement::Rings) => &["ring", "bodyweight"],
        (false, false) if movement.uses(Implement::Towel) => &["towel"],
        (false, false) => &["bodyweight"],
    }
}

const fn stands_at(station: Station) -> &'static [&'static str] {
    match station {
        Station::Barbell => &[BARBELL, "smith", "landmine"],
        Station::Cable => &["cable", "machine"],
        Station::Machine => &["machine"],
    }
}

impl<'a> Names<'a> {
    /// Reads the names of a catalogue.
    pub fn of(catalogue: &'a Catalogue) -> Self {
        let mut called = Vec::new();
        let mut take = |id: &'a str, gym: bool, kit: &'a [&'static str], names: Vec<&'a str>| {
            for name in names {
                called.push(Called { id, gym, kit, words: words::of(name).into_iter().collect() });
            }
        };
        for movement in &catalogue.movements {
            let plain = movement.id.as_str();
            let names = std::iter::once(movement.name.as_str()).chain(movement.synonyms.iter().map(String::as_str));
            take(plain, false, carried_by(movement), names.chain([plain]).collect());
        }
        for gym in catalogue.gym.values() {
            let names = std::iter::once(gym.name.as_str()).chain(gym.synonyms.iter().map(String::as_str));
            take(gym.id.as_str(), true, stands_at(gym.station), names.chain([gym.id.as_str()]).collect());
        }
        Self::indexed(called)
    }

    fn indexed(called: Vec<Called<'a>>) -> Self {
        let mut by_word: HashMap<String, Vec<usize>> = HashMap::new();
        for (place, one) in called.iter().enumerate() {
            for word in &one.words {
                by_word.entry(word.clone()).or_default().push(place);
            }
        }
        let all = called.len() as f64;
        let worth = |places: f64| (1.0 + all / places).ln();
        let tells = by_word.iter().map(|(word, places)| (word.clone(), worth(places.len() as f64))).collect();
        Self { called, by_word, tells, unknown: worth(1.0) }
    }

    /// What a name may mean, surest first. Empty where nothing is like it.
    pub fn matches(&self, name: &str) -> Vec<Match<'a>> {
        let name = words::mended(name);
        let mut wanted: Vec<(String, f64)> = words::of(&name).into_iter().map(|w| self.known(w)).collect();
        // A bench by itself is the press on it.
        let has = |word: &&str| wanted.iter().any(|(w, _)| w == *word);
        if has(&"bench") && !DONE.iter().any(has) {
            wanted.push(("press".to_owned(), 1.0));
        }
        let mut near: BTreeSet<usize> = BTreeSet::new();
        for (word, _) in &wanted {
            near.extend(self.by_word.get(word).into_iter().flatten());
        }
        let mut best: BTreeMap<(bool, &'a str), f64> = BTreeMap::new();
        for place in near {
            let called = &self.called[place];
            let found = best.entry((called.gym, called.id)).or_default();
            *found = found.max(self.likeness(&wanted, called));
        }
        // What several are called is said less surely of each.
        let exact = [false, true].map(|gym| best.iter().filter(|((g, _), c)| *g == gym && **c >= 1.0).count());
        let mut found: Vec<Match<'a>> = best
            .into_iter()
            .map(|((gym, id), likeness)| {
                let shared = exact[usize::from(gym)] > 1;
                let confidence = match likeness {
                    l if l >= 1.0 && shared => SHARED_NAME,
                    l if l >= 1.0 => CALLED_SO,
                    l => l.min(ALIKE),
                };
                Match { id, gym, confidence }
            })
            .filter(|m| m.confidence >= WORTH_TELLING)
            .collect();
        found.sort_by(|a, b| {
            b.confidence.total_cmp(&a.confidence).then(a.id.len().cmp(&b.id.len())).then(a.id.cmp(b.id))
        });
        found.truncate(MOST_MATCHES);
        found
    }

    /// The nearest to a name, surest first, at most so many: what it may mean, then what is spelt most like it.
    pub fn nearest(&self, name: &str, most: usize) -> Vec<Match<'a>> {
        let mut found = self.matches(name);
        let wanted = words::of(name).join(" ");
        if found.len() < most && !wanted.is_empty() {
            let mut alike: BTreeMap<(bool, &'a str), f64> = BTreeMap::new();
            for called in &self.called {
                let whole = called.words.iter().map(String::as_str).collect::<Vec<_>>().join(" ");
                let like = alike.entry((called.gym, called.id)).or_default();
                *like = like.max(strsim::sorensen_dice(&whole, &wanted));
            }
            let known: BTreeSet<&str> = found.iter().map(|m| m.id).collect();
            let mut alike: Vec<Match<'a>> = alike
                .into_iter()
                .filter(|((_, id), like)| *like > 0.0 && !known.contains(id))
                .map(|((gym, id), like)| Match { id, gym, confidence: like.min(1.0) * WORTH_TELLING })
                .collect();
            alike.sort_by(|a, b| b.confidence.total_cmp(&a.confidence).then(a.id.cmp(b.id)));
            found.extend(alike);
        }
        found.truncate(most);
        found
    }

    /// A word as some name has it, where it is only misspelt, with its worth.
    fn known(&self, word: String) -> (String, f64) {
        if self.by_word.contains_key(&word) {
            return (word, 1.0);
        }
        let slips = match word.chars().count() {
            0..=4 => return (word, 1.0),
            5..=7 => 1,
            _ => 2,
        };
        if let Some(meant) = words::nearly(&word, slips) {
            return (meant.to_owned(), MISSPELT);
        }
        let near = self.by_word.keys().map(|k| (strsim::osa_distance(k, &word), k)).filter(|(d, _)| *d <= slips).min();
        near.map_or((word, 1.0), |(_, known)| (known.clone(), MISSPELT))
    }

    fn told(&self, word: &str) -> f64 {
        self.tells.get(word).copied().unwrap_or(self.unknown)
    }

    /// How alike a written name and a called one are: twice what they share over what both say, less for what contradicts.
    fn likeness(&self, wanted: &[(String, f64)], called: &Called<'_>) -> f64 {
        // Kit that a movement has anyway need not be in its name.
        let stated = |word: &str| KIT_WORDS.contains(&word);
        let understood = |word: &str| stated(word) && called.kit.contains(&word) && !called.words.contains(word);
        let counted: Vec<&(String, f64)> = wanted.iter().filter(|(w, _)| !understood(w)).collect();
        let shared: f64 =
            counted.iter().filter(|(w, _)| called.words.contains(w)).map(|(w, worth)| worth * self.told(w)).sum();
        let written: f64 = counted.iter().map(|(w, _)| self.told(w)).sum();
        // A plain name means the free weight: dumbbells at home, a barbell in a gym.
        let free = if called.gym { BARBELL } else { DUMBBELL };
        let plain = |word: &str| word == free && called.kit.contains(&word);
        let lone = called.words.iter().filter(|w| !plain(w) || counted.iter().any(|(c, _)| c == *w));
        let name: f64 = lone.map(|w| self.told(w)).sum();
        if written + name <= 0.0 {
            return 0.0;
        }
        let mut likeness = 2.0 * shared / (written + name);
        let kit: Vec<&str> = wanted.iter().map(|(w, _)| w.as_str()).filter(|w| stated(w)).collect();
        if !kit.is_empty() && !kit.iter().any(|w| called.kit.contains(w)) {
            likeness *= OTHER_KIT;
        }
        if kit.is_empty() && called.words.iter().any(|w| stated(w) && !plain(w)) {
            likeness *= UNSAID_KIT;
        }
        for group in EITHER_OR {
            let said = |word: &&&str| wanted.iter().any(|(w, _)| w == **word);
            let has = |word: &&&str| called.words.contains(**word);
            let (mine, its) = (group.iter().find(said), group.iter().find(has));
            if mine.is_some() && its.is_some() && !group.iter().any(|w| said(&w) && has(&w)) {
                likeness *= CONTRADICTED;
            }
        }
        likeness
    }
}

/// What is chosen among matches: the movement of the catalogue and the reference of a gym. Neither below
/// [`SURE_ENOUGH`], and of the two only the one that is clearly meant.
pub fn chosen<'a>(matches: &[Match<'a>]) -> (Option<&'a str>, Option<&'a str>) {
    let best = |gym: bool| matches.iter().find(|m| m.gym == gym).filter(|m| m.confidence >= SURE_ENOUGH);
    match (best(false), best(true)) {
        (Some(home), Some(gym)) if gym.confidence > home.confidence + CLEARLY => (None, Some(gym.id)),
        (Some(home), Some(gym)) if home.confidence > gym.confidence + CLEARLY => (Some(home.id), None),
        (home, gym) => (home.map(|m| m.id), gym.map(|m| m.id)),
    }
}

/// A relation as it was written, with the movement that it names by its identifier. The error names those that are nearest.
pub fn resolve(catalogue: &Catalogue, relation: Relation) -> Result<Relation, RangeError> {
    let Some(written) = relation.other().map(Other::name) else { return Ok(relation) };
    let movement = called(catalogue, &written)?;
    let says_so = movement.name.to_lowercase() == movement.id.replace('_', " ");
    let called = (!says_so).then(|| movement.name.to_lowercase());
    Ok(relation.with_other(Other { movement: movement.id.clone(), called }))
}

/// Confidence from which a movement is worth naming in place of what was written. Assumed.
const ALIKE_AT_ALL: f64 = 0.15;

/// The movement that is called exactly so, commas aside, or else the one that is surely meant.
fn called<'a>(catalogue: &'a Catalogue, written: &str) -> Result<&'a Movement, RangeError> {
    let plain = |name: &str| name.to_lowercase().replace(',', "");
    let is_called = |m: &&Movement| plain(&m.name) == plain(written) || m.id.replace('_', " ") == written;
    if let Some(exactly) = catalogue.movements.iter().map(AsRef::as_ref).find(is_called) {
        return Ok(exactly);
    }
    let names = Names::of(catalogue);
    let surely = chosen(&names.matches(written)).0.and_then(|id| catalogue.movement(id));
    surely.ok_or_else(|| {
        let near = names.nearest(written, 20);
        let near = near.iter().filter(|m| !m.gym && m.confidence >= ALIKE_AT_ALL);
        let near: Vec<&str> = near.filter_map(|m| catalogue.movement(m.id)).map(|m| m.name.as_str()).take(3).collect();
        let hint = if near.is_empty() {
            "name it as the catalogue does".to_owned()
        } else {
            format!("nearest: {}", near.join(", "))
        };
        RangeError::new("text", format!("no movement that can be logged is called {written:?}; {hint}"))
    })
}
