//! Names as people write them, brought to the same words: `DB flyes`, `dumbbell fly` and `Dumbbell Flys` are one.

/// Several words that are one thing, in whatever way they are written; longer ones first.
const PHRASES: &[(&str, &str)] = &[
    ("leg press", "legpress"),
    ("leg presses", "legpress"),
    ("leg curl", "legcurl"),
    ("leg curls", "legcurl"),
    ("leg extension", "legextension"),
    ("leg extensions", "legextension"),
    ("hip thrust", "hipthrust"),
    ("calf raise", "calfraise"),
    ("calf raises", "calfraise"),
    ("overhead press", "overheadpress"),
    ("military press", "overheadpress"),
    ("shoulder press", "overheadpress"),
    ("strict press", "overheadpress"),
    ("press overhead", "overheadpress"),
    ("press military", "overheadpress"),
    ("press shoulder", "overheadpress"),
    ("press ups", "pushup"),
    ("press up", "pushup"),
    ("push ups", "pushup"),
    ("push up", "pushup"),
    ("lat raises", "side raise"),
    ("lat raise", "side raise"),
    ("pull ups", "pullup"),
    ("pull up", "pullup"),
    ("chin ups", "chinup"),
    ("chin up", "chinup"),
    ("pull downs", "pulldown"),
    ("pull down", "pulldown"),
    ("push downs", "pushdown"),
    ("push down", "pushdown"),
    ("press downs", "pushdown"),
    ("press down", "pushdown"),
    ("pull overs", "pullover"),
    ("pull over", "pullover"),
    ("kick backs", "kickback"),
    ("kick back", "kickback"),
    ("roll outs", "rollout"),
    ("roll out", "rollout"),
    ("walk outs", "walkout"),
    ("walk out", "walkout"),
    ("pull aparts", "pullapart"),
    ("pull apart", "pullapart"),
    ("skull crushers", "skullcrusher"),
    ("skull crusher", "skullcrusher"),
    ("nose breakers", "skullcrusher"),
    ("single arm", "onearm"),
    ("single armed", "onearm"),
    ("one armed", "onearm"),
    ("one arm", "onearm"),
    ("1 arm", "onearm"),
    ("bent over", "bentover"),
    ("close grip", "close"),
    ("narrow grip", "close"),
    ("close hands", "close"),
    ("close hand", "close"),
    ("wide grip", "wide"),
    ("wide hands", "wide"),
    ("wide hand", "wide"),
    ("neutral grip", "neutral"),
    ("hammer grip", "neutral"),
    ("palms facing", "neutral"),
    ("reverse grip", "underhand"),
    ("palms up", "underhand"),
    ("palm up", "underhand"),
    ("palms down", "overhand"),
    ("palm down", "overhand"),
    ("rear delts", "rear"),
    ("rear delt", "rear"),
    ("rear deltoid", "rear"),
    ("posterior delt", "rear"),
    ("side delt", "side"),
    ("front delt", "front"),
    ("feet elevated", "feetraised"),
    ("feet raised", "feetraised"),
    ("elevated feet", "feetraised"),
    ("hands elevated", "handsraised"),
    ("hands raised", "handsraised"),
    ("on knees", "knee"),
    ("from knees", "knee"),
    ("on the knees", "knee"),
    ("from the knees", "knee"),
    ("low to high", "lowhigh"),
    ("high to low", "highlow"),
    ("chest supported", "supported"),
    ("straight arm", "straightarm"),
    ("stiff arm", "straightarm"),
    ("cross body", "crossbody"),
    ("ez bar", "barbell"),
    ("e z bar", "barbell"),
    ("dip bars", "bars"),
    ("parallel bars", "bars"),
    ("parallel bar", "bars"),
    ("t bar", "tbar"),
    ("half kneeling", "halfkneeling"),
    ("side lying", "lyingside"),
    ("slow lowering only", "negative"),
    ("slow lowering", "negative"),
];

/// One word for another.
const SAME: &[(&str, &str)] = &[
    ("db", "dumbbell"),
    ("dbs", "dumbbell"),
    ("dumbell", "dumbbell"),
    ("dumbells", "dumbbell"),
    ("bb", "barbell"),
    ("bbell", "barbell"),
    ("ez", "barbell"),
    ("kb", "kettlebell"),
    ("bw", "bodyweight"),
    ("banded", "band"),
    ("ohp", "overheadpress"),
    ("tri", "triceps"),
    ("tris", "triceps"),
    ("tricep", "triceps"),
    ("bi", "biceps"),
    ("bis", "biceps"),
    ("bicep", "biceps"),
    ("inclined", "incline"),
    ("declined", "decline"),
    ("flye", "fly"),
    ("flyes", "fly"),
    ("flies", "fly"),
    ("flys", "fly"),
    ("lateral", "side"),
    ("laterals", "side"),
    ("lat", "lat"),
    ("lats", "lat"),
    ("sa", "onearm"),
    ("alt", "alternating"),
    ("eccentric", "negative"),
    ("negatives", "negative"),
    ("narrow", "close"),
    ("supinated", "underhand"),
    ("pronated", "overhand"),
    ("kneeling", "knee"),
    ("knees", "knee"),
    ("pulls", "pull"),
    ("ups", "up"),
    ("inverted", "inverted"),
    ("shoulders", "shoulder"),
    ("suspended", "ring"),
    ("pushups", "pushup"),
    ("pullups", "pullup"),
    ("chinups", "chinup"),
    ("chins", "chinup"),
    ("pressups", "pushup"),
    ("pressup", "pushup"),
    ("pressdown", "pushdown"),
    ("pressdowns", "pushdown"),
    ("skullcrushers", "skullcrusher"),
    ("seesaw", "see saw"),
    ("french", "french"),
    ("elevated", "raised"),
];

/// Words that say nothing of which movement is meant.
const IDLE: &[&str] = &[
    "the",
    "a",
    "an",
    "with",
    "on",
    "of",
    "to",
    "in",
    "from",
    "and",
    "for",
    "at",
    "by",
    "only",
    "exercise",
    "weighted",
    "heavy",
    "light",
    "loaded",
    "resistance",
    "slow",
    "strict",
    "or",
    "your",
    "each",
    "variation",
];

/// Words that end in an s and stand for one thing.
const NOT_PLURAL: &[&str] = &["press", "biceps", "triceps", "cross", "chest", "less", "bars", "australian"];

const PRESS: &str = "press";
const OVERHEAD: &str = "overhead";
/// Letters from which on a word is told from another by one.
const LONG: usize = 5;

/// The words of a name, in order, without those that say nothing.
pub(super) fn of(name: &str) -> Vec<String> {
    let plain: String = name.to_lowercase().chars().map(|c| if c.is_alphanumeric() { c } else { ' ' }).collect();
    let mut text = format!(" {} ", plain.split_whitespace().collect::<Vec<_>>().join(" "));
    for (phrase, one) in PHRASES.iter().filter(|(phrase, _)| plain.contains(' ') && phrase.len() <= plain.len()) {
        // Most names hold none; one that follows itself shares a blank with itself, so it is looked for again.
        while let Some(at) = found_as_words(&text, phrase) {
            text.replace_range(at..at + phrase.len(), one);
        }
    }
    let mut found = Vec::new();
    for word in text.split_whitespace() {
        let word = same(word);
        if !IDLE.contains(&word.as_str()) && !found.contains(&word) {
            found.push(word);
        }
    }
    // As a list has it: `press, cable overhead`.
    if [PRESS, OVERHEAD].iter().all(|part| found.iter().any(|w| w == part)) {
        found.retain(|w| w != PRESS && w != OVERHEAD);
        found.push("overheadpress".to_owned());
    }
    found
}

/// A name with the words of phrases as they are spelt, where they are only misspelt by a letter or stand in the plural.
pub(super) fn mended(name: &str) -> String {
    let mend = |word: &str| {
        let word = word.strip_suffix("es").filter(|w| w.ends_with("ss")).unwrap_or(word);
        let known = || PHRASES.iter().flat_map(|(phrase, _)| phrase.split(' ')).filter(|w| w.len() >= LONG);
        if word.len() < LONG || known().any(|w| w == word) || SAME.iter().any(|(other, _)| *other == word) {
            return word.to_owned();
        }
        known().find(|w| strsim::osa_distance(w, word) == 1).unwrap_or(word).to_owned()
    };
    name.to_lowercase().split([' ', '-', ',']).map(mend).collect::<Vec<_>>().join(" ")
}

/// Where a phrase stands in a text as whole words.
fn found_as_words(text: &str, phrase: &str) -> Option<usize> {
    let blank = |byte: Option<&u8>| byte == Some(&b' ');
    let bytes = text.as_bytes();
    let whole = |at: &usize| *at > 0 && blank(bytes.get(at - 1)) && blank(bytes.get(at + phrase.len()));
    text.match_indices(phrase).map(|(at, _)| at).find(whole)
}

/// The word that one is another way of writing, where it is only misspelt by so many letters.
pub(super) fn nearly(word: &str, slips: usize) -> Option<&'static str> {
    let near = SAME.iter().map(|(other, one)| (strsim::osa_distance(other, word), *one));
    near.filter(|(distance, _)| *distance <= slips).min().map(|(_, one)| one)
}

/// A word as names have it: the singular, and one word for several that say the same; `flies` and `flyes` are `fly`.
pub fn same(word: &str) -> String {
    if let Some((_, one)) = SAME.iter().find(|(other, _)| *other == word) {
        return (*one).to_owned();
    }
    let singular = word.strip_suffix('s').filter(|w| w.len() > 2 && !NOT_PLURAL.contains(&word) && !w.ends_with('s'));
    let one = singular.unwrap_or(word);
    SAME.iter().find(|(other, _)| *other == one).map_or_else(|| one.to_owned(), |(_, same)| (*same).to_owned())
}

#[cfg(test)]
mod tests {
    use super::{mended, of};
    use rstest::rstest;

    #[rstest]
    #[case("DB Flyes", &["dumbbell", "fly"])]
    #[case("Single-arm lateral raises", &["onearm", "side", "raise"])]
    #[case("Close-Grip Press-Ups", &["close", "pushup"])]
    #[case("the weighted pull-ups", &["pullup"])]
    #[case("OHP", &["overheadpress"])]
    #[case("Leg press", &["legpress"])]
    #[case("", &[])]
    fn names_come_to_the_same_words(#[case] name: &str, #[case] expected: &[&str]) {
        assert_eq!(of(name), expected, "{name}");
    }

    #[rstest]
    #[case("Seated shulder presses", &["seated", "overheadpress"])]
    #[case("presses, cable overhead", &["cable", "overheadpress"])]
    #[case("press, overhead", &["overheadpress"])]
    fn slips_and_plurals_do_not_hide_a_phrase(#[case] name: &str, #[case] expected: &[&str]) {
        assert_eq!(of(&mended(name)), expected, "{name}");
    }
}
