//! Sets of fixed weights, of which one can be lacking while the others are there.

use super::KitItem;
use crate::units::MassUnit;

impl KitItem {
    /// The stamped weights of a piece that is a set of fixed ones: pairs, singles, unit.
    pub fn fixed_weights(&self) -> Option<(&[f64], &[f64], MassUnit)> {
        match self {
            Self::Dumbbells(d) => Some((&d.pairs, &d.singles, d.unit)),
            Self::Kettlebells(k) => Some((&k.pairs, &k.singles, k.unit)),
            _ => None,
        }
    }

    /// The same with only the fixed weights that are wanted; none where nothing of it is left, the piece itself where it is
    /// no set of fixed weights.
    #[must_use]
    pub fn with_weights(&self, wanted: impl Fn(f64) -> bool) -> Option<Self> {
        self.changed(|pairs, singles| {
            pairs.retain(|v| wanted(*v));
            singles.retain(|v| wanted(*v));
        })
    }

    /// The same without the pair or single at a place among its like; none where it was the last.
    #[must_use]
    pub fn without_weight(&self, pair: bool, at: usize) -> Option<Self> {
        self.changed(|pairs, singles| {
            let weights = if pair { pairs } else { singles };
            if at < weights.len() {
                weights.remove(at);
            }
        })
    }

    fn changed(&self, change: impl FnOnce(&mut Vec<f64>, &mut Vec<f64>)) -> Option<Self> {
        let mut left = self.clone();
        let (pairs, singles) = match &mut left {
            Self::Dumbbells(d) => (&mut d.pairs, &mut d.singles),
            Self::Kettlebells(k) => (&mut k.pairs, &mut k.singles),
            _ => return Some(left),
        };
        change(pairs, singles);
        (!(pairs.is_empty() && singles.is_empty())).then_some(left)
    }

    /// One word for the weights of a set, for example `dumbbells`.
    pub const fn weights_word(&self) -> &'static str {
        if matches!(self, Self::Kettlebells(_)) { "kettlebells" } else { "dumbbells" }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kit::Kettlebells;

    #[test]
    fn one_weight_of_several_can_be_lacking() {
        let bells = KitItem::Kettlebells(Kettlebells { pairs: vec![12.0], singles: vec![16.0], ..Default::default() });
        let left = bells.with_weights(|v| v < 14.0).unwrap();
        assert_eq!(left.fixed_weights(), Some((&[12.0][..], &[][..], MassUnit::Kg)));
        assert!(left.with_weights(|v| v > 14.0).is_none());
    }
}
