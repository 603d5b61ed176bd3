//! The second step: a code of six digits that a device works out from a shared secret and the time (RFC 6238), and recovery codes
//! for the day on which the device is lost.

use chrono::{DateTime, Utc};
use totp_rs::{Algorithm, TOTP};
use uuid::Uuid;

/// Digits of a code.
const DIGITS: usize = 6;
/// Seconds for which a code holds.
const STEP: u64 = 30;
/// Bytes of a secret, as the standard advises.
const SECRET: usize = 20;
/// Recovery codes that are given out.
const RECOVERY: usize = 8;

/// A new secret.
pub(super) fn new_secret() -> Vec<u8> {
    let random = [Uuid::new_v4(), Uuid::new_v4()];
    random.iter().flat_map(|id| id.into_bytes()).take(SECRET).collect()
}

fn encoded(secret: &[u8]) -> String {
    totp_rs::Secret::Raw(secret.to_vec()).to_encoded().to_string()
}

/// A secret as it is typed into a device, in groups of four.
pub(super) fn readable(secret: &[u8]) -> String {
    let groups = encoded(secret).into_bytes();
    groups.chunks(4).map(String::from_utf8_lossy).collect::<Vec<_>>().join(" ")
}

/// The address that a device reads from a picture.
pub(super) fn address(secret: &[u8], email: &str) -> String {
    let account: String = email
        .bytes()
        .map(|b| if b.is_ascii_alphanumeric() { char::from(b).to_string() } else { format!("%{b:02X}") })
        .collect();
    format!("otpauth://totp/Bavrek:{account}?secret={}&issuer=Bavrek", encoded(secret))
}

/// The time step whose code this is: now, the one before or the one after, since clocks differ.
pub(super) fn step_of(secret: &[u8], code: &str, now: DateTime<Utc>) -> Option<i64> {
    let digits: String = code.chars().filter(|c| !c.is_whitespace()).collect();
    let codes = TOTP::new(Algorithm::SHA1, DIGITS, 0, STEP, secret.to_vec()).ok()?;
    let step = u64::try_from(now.timestamp()).ok()? / STEP;
    let found =
        [step, step.saturating_sub(1), step + 1].into_iter().find(|step| codes.generate(step * STEP) == digits)?;
    i64::try_from(found).ok()
}

/// The code of a moment, for tests.
#[cfg(test)]
pub(super) fn at(secret: &[u8], now: DateTime<Utc>) -> String {
    TOTP::new(Algorithm::SHA1, DIGITS, 0, STEP, secret.to_vec()).unwrap().generate(now.timestamp() as u64)
}

/// New recovery codes: ten digits and letters each, in two halves.
pub(super) fn recovery_codes() -> Vec<String> {
    let code = || {
        let random = Uuid::new_v4().simple().to_string();
        format!("{}-{}", &random[..5], &random[20..25])
    };
    (0..RECOVERY).map(|_| code()).collect()
}

#[cfg(test)]
mod tests {
    use super::{at, new_secret, readable, recovery_codes, step_of};
    use chrono::{DateTime, Duration};
    use std::collections::BTreeSet;

    /// The key of the standard's own examples: at 59 s the code of six digits is 287082.
    #[test]
    fn codes_are_those_of_the_standard() {
        let then = DateTime::from_timestamp(59, 0).unwrap();
        assert_eq!(at(b"12345678901234567890", then), "287082");
        assert_eq!(step_of(b"12345678901234567890", " 287 082 ", then), Some(1));
    }

    #[test]
    fn a_code_holds_for_its_step_and_the_neighbours_alone() {
        let (secret, now) = (new_secret(), DateTime::from_timestamp(1_800_000_000, 0).unwrap());
        let step = now.timestamp() / 30;
        for (seconds, holds) in [(-61, None), (-30, Some(step - 1)), (0, Some(step)), (59, Some(step + 1)), (60, None)]
        {
            assert_eq!(step_of(&secret, &at(&secret, now + Duration::seconds(seconds)), now), holds, "{seconds} s");
        }
        assert_eq!(step_of(&secret, "", now), None);
    }

    #[test]
    fn secrets_and_recovery_codes_are_each_their_own() {
        assert_ne!(new_secret(), new_secret());
        assert_eq!(readable(&new_secret()).len(), 39);
        let codes: BTreeSet<String> = recovery_codes().into_iter().collect();
        assert_eq!(codes.len(), 8);
        assert!(codes.iter().all(|c| c.len() == 11 && c.as_bytes()[5] == b'-'));
    }
}
