//! How a session is put together, and a week of them: blocks of stations in order, and the moves by which a trainer changes
//! that.

use crate::plan::BlockKind;

/// Stations done together.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Joined<B, K> {
    /// The block; none of one that a move has made.
    pub id: Option<B>,
    /// How its stations are done; of a single one straight.
    pub kind: BlockKind,
    /// In order.
    pub keys: Vec<K>,
}

/// Blocks in order.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Arrangement<B, K> {
    /// In order; none is empty.
    pub blocks: Vec<Joined<B, K>>,
}

/// Whether an order names each of so many places once.
fn names_each_once(order: &[usize], count: usize) -> bool {
    let mut named = order.to_vec();
    named.sort_unstable();
    named.iter().copied().eq(0..count)
}

/// A move.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Move {
    /// One place earlier: within its block, with its block where it is first there or alone.
    Earlier,
    /// One place later, likewise.
    Later,
    /// Its block and the next become one; of the last, it and the one before.
    Join,
    /// Out of its block, on its own behind it.
    Part,
    /// Out of the session.
    TakeOut,
    /// Its block is done another way.
    Kind(BlockKind),
}

impl<B: Copy + PartialEq, K: Copy + PartialEq> Arrangement<B, K> {
    /// Where a station stands: its block's place and its own in it.
    pub fn find(&self, key: K) -> Option<(usize, usize)> {
        self.blocks.iter().enumerate().find_map(|(b, block)| Some((b, block.keys.iter().position(|k| *k == key)?)))
    }

    /// The arrangement after a move. `None` where the station is not there or the move changes nothing: the first cannot go
    /// earlier, a lone one cannot be parted.
    #[must_use]
    pub fn after(&self, key: K, change: Move) -> Option<Self> {
        let (b, s) = self.find(key)?;
        let mut moved = self.clone();
        match change {
            Move::Earlier if s > 0 => moved.blocks[b].keys.swap(s, s - 1),
            Move::Earlier if b > 0 => moved.blocks.swap(b, b - 1),
            Move::Later if s + 1 < moved.blocks[b].keys.len() => moved.blocks[b].keys.swap(s, s + 1),
            Move::Later if b + 1 < moved.blocks.len() => moved.blocks.swap(b, b + 1),
            Move::Join if moved.blocks.len() > 1 => {
                let first = b.min(moved.blocks.len() - 2);
                let second = moved.blocks.remove(first + 1);
                let joined = &mut moved.blocks[first];
                joined.kind = match (joined.keys.len(), second.keys.len()) {
                    (1, 1) => BlockKind::Superset,
                    (1, _) => second.kind,
                    _ if joined.kind == BlockKind::Straight => BlockKind::Circuit,
                    _ => joined.kind,
                };
                joined.keys.extend(second.keys);
            }
            Move::Part if moved.blocks[b].keys.len() > 1 => {
                moved.blocks[b].keys.remove(s);
                moved.blocks.insert(b + 1, Joined { id: None, kind: BlockKind::Straight, keys: vec![key] });
            }
            Move::TakeOut => {
                moved.blocks[b].keys.remove(s);
            }
            Move::Kind(kind) if moved.blocks[b].keys.len() > 1 => moved.blocks[b].kind = kind,
            _ => return None,
        }
        moved.tidied(self)
    }

    /// The arrangement with a station dropped before the block of another, on its own. `None` as in [`Self::after`].
    #[must_use]
    pub fn before(&self, key: K, other: K) -> Option<Self> {
        let mut moved = self.without(key, other)?;
        let (b, _) = moved.find(other)?;
        moved.blocks.insert(b, Joined { id: None, kind: BlockKind::Straight, keys: vec![key] });
        // Where it stood alone already it keeps its block.
        if let Some((own, _)) = self.find(key).filter(|(own, _)| self.blocks[*own].keys.len() == 1) {
            moved.blocks[b].id = self.blocks[own].id;
        }
        moved.tidied(self)
    }

    /// The arrangement with a station dropped onto another: behind it in its block. `None` as in [`Self::after`].
    #[must_use]
    pub fn with(&self, key: K, other: K) -> Option<Self> {
        let mut moved = self.without(key, other)?;
        let (b, s) = moved.find(other)?;
        let block = &mut moved.blocks[b];
        if block.keys.len() == 1 {
            block.kind = BlockKind::Superset;
        }
        block.keys.insert(s + 1, key);
        moved.tidied(self)
    }

    /// The arrangement with two stations in each other's places. `None` where either is not there, or they are one.
    #[must_use]
    pub fn swapped(&self, key: K, other: K) -> Option<Self> {
        let ((b, s), (c, t)) = (self.find(key)?, self.find(other)?);
        let mut moved = self.clone();
        moved.blocks[b].keys[s] = other;
        moved.blocks[c].keys[t] = key;
        moved.tidied(self)
    }

    /// The arrangement with its blocks in another order, by their places now. `None` where that names not each block once, or
    /// changes nothing.
    #[must_use]
    pub fn reordered(&self, order: &[usize]) -> Option<Self> {
        if !names_each_once(order, self.blocks.len()) {
            return None;
        }
        Self { blocks: order.iter().map(|i| self.blocks[*i].clone()).collect() }.tidied(self)
    }

    /// The arrangement with the stations of a block in another order, by their places now; none likewise.
    #[must_use]
    pub fn turned(&self, block: usize, order: &[usize]) -> Option<Self> {
        let keys = &self.blocks.get(block)?.keys;
        if !names_each_once(order, keys.len()) {
            return None;
        }
        let mut moved = self.clone();
        moved.blocks[block].keys = order.iter().map(|i| keys[*i]).collect();
        moved.tidied(self)
    }

    /// All without one station; none where it is the other, or either is not there.
    fn without(&self, key: K, other: K) -> Option<Self> {
        let (b, s) = self.find(key)?;
        self.find(other).filter(|_| key != other)?;
        let mut moved = self.clone();
        moved.blocks[b].keys.remove(s);
        moved.blocks.retain(|block| !block.keys.is_empty());
        Some(moved)
    }

    /// Without empty blocks, lone stations straight; none where that is what there was.
    fn tidied(mut self, before: &Self) -> Option<Self> {
        self.blocks.retain(|block| !block.keys.is_empty());
        for block in self.blocks.iter_mut().filter(|block| block.keys.len() == 1) {
            block.kind = BlockKind::Straight;
        }
        (self != *before).then_some(self)
    }
}

/// Days, each with its arrangement: a station goes from one to another. No key stands twice.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Days<B, K> {
    /// In order; a day may be empty.
    pub days: Vec<Arrangement<B, K>>,
}

impl<B: Copy + PartialEq, K: Copy + PartialEq> Days<B, K> {
    /// The day on which a station stands.
    pub fn day_of(&self, key: K) -> Option<usize> {
        self.days.iter().position(|day| day.find(key).is_some())
    }

    /// The days after a move within the station's day. `None` as in [`Arrangement::after`].
    #[must_use]
    pub fn after(&self, key: K, change: Move) -> Option<Self> {
        let day = self.day_of(key)?;
        let mut moved = self.clone();
        moved.days[day] = self.days[day].after(key, change)?;
        Some(moved)
    }

    /// The days with a station on another day, last and on its own. `None` where it is there already.
    #[must_use]
    pub fn onto_day(&self, key: K, day: usize) -> Option<Self> {
        let from = self.day_of(key).filter(|from| *from != day && day < self.days.len())?;
        let mut moved = self.clone();
        moved.days[from] = self.days[from].after(key, Move::TakeOut)?;
        moved.days[day].blocks.push(Joined { id: None, kind: BlockKind::Straight, keys: vec![key] });
        Some(moved)
    }

    /// The days with a new station, last and on its own on a day; in a block with another where that is named.
    #[must_use]
    pub fn added(&self, new: K, day: usize) -> Option<Self> {
        let mut moved = self.clone();
        let blocks = &mut moved.days.get_mut(day)?.blocks;
        blocks.push(Joined { id: None, kind: BlockKind::Straight, keys: vec![new] });
        Some(moved)
    }

    /// The days with a station dropped before the block of another, wherever that stands.
    #[must_use]
    pub fn before(&self, key: K, other: K) -> Option<Self> {
        self.dropped(key, other, Arrangement::before)
    }

    /// The days with a station dropped onto another: behind it in its block.
    #[must_use]
    pub fn with(&self, key: K, other: K) -> Option<Self> {
        self.dropped(key, other, Arrangement::with)
    }

    fn dropped(
        &self,
        key: K,
        other: K,
        drop: impl Fn(&Arrangement<B, K>, K, K) -> Option<Arrangement<B, K>>,
    ) -> Option<Self> {
        let (from, to) = (self.day_of(key)?, self.day_of(other)?);
        let mut moved = if from == to { self.clone() } else { self.onto_day(key, to)? };
        moved.days[to] = drop(&moved.days[to], key, other).or_else(|| (from != to).then(|| moved.days[to].clone()))?;
        Some(moved)
    }
}
