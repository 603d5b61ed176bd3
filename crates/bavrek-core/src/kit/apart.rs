//! Bands are known by their names; what is told apart by its name must have one of its own.

use super::KitItem;

/// Words for the second band of a name and those after it.
const ORDINALS: [&str; 8] = ["second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth"];

/// Whether two bands have one name and are not the same kind of band: then neither a step nor a log could tell which.
pub fn mistaken(one: &KitItem, other: &KitItem) -> bool {
    one.is_band() && other.is_band() && one.name() == other.name() && one.counted(1) != other.counted(1)
}

/// Gives every band that could be mistaken for one before it a name of its own: `second loop 22 mm`. Bands that are the same
/// in all but number keep one name.
pub fn tell_apart<'k>(items: impl Iterator<Item = &'k mut KitItem>) {
    let mut before: Vec<KitItem> = Vec::new();
    for item in items.filter(|i| i.is_band()) {
        let mut named = item.clone();
        let mut ordinals = ORDINALS.iter();
        while before.iter().any(|b| mistaken(b, &named)) {
            let Some(word) = ordinals.next() else { break };
            named = item.clone().labelled(word);
        }
        *item = named;
        before.push(item.clone());
    }
}

/// How many bands of a name a kit holds.
pub fn count_of(kit: &[KitItem], name: &str) -> usize {
    let named = kit.iter().filter(|k| k.is_band() && k.name() == name);
    let counts = named.map(|item| match item {
        KitItem::LoopBand(b) => b.count,
        KitItem::TubeBand(b) => b.count,
        _ => 0,
    });
    counts.map(usize::from).sum()
}

impl KitItem {
    /// The same kind of band so many times, whichever piece it is.
    fn counted(&self, number: u8) -> Self {
        let mut item = self.clone().as_piece(None);
        match &mut item {
            Self::LoopBand(b) => b.count = number,
            Self::TubeBand(b) => b.count = number,
            _ => {}
        }
        item
    }

    /// The same band with a word before its label.
    fn labelled(mut self, word: &str) -> Self {
        let label = match &mut self {
            Self::LoopBand(b) => &mut b.label,
            Self::TubeBand(b) => &mut b.label,
            _ => return self,
        };
        *label = Some(label.as_ref().map_or_else(|| word.to_owned(), |old| format!("{word} {old}")));
        self
    }
}
