//! New passwords, wherever one is chosen.

use crate::extract::Fields;
use crate::features::typed::{Input, Typed};

/// Shortest password that is taken, characters.
const SHORTEST: usize = 10;
/// The same in words.
const LENGTH: &str = "at least 10 characters";
/// Longest password that is looked at, characters: hashing more is only work for an attacker to hand out.
pub(super) const LONGEST: usize = 200;

/// The fields for a new password.
pub(super) fn inputs(form: &Typed) -> [Input; 2] {
    [
        Input::text(form, "new_password", "New password", LENGTH).kind("new-password"),
        Input::text(form, "again", "The same again", "").kind("new-password"),
    ]
}

/// What was typed into a password field, with every blank.
pub(super) fn typed(fields: &Fields, name: &str) -> String {
    fields.all(name).next().unwrap_or("").to_owned()
}

/// A new password, typed twice. None with the reasons beside the fields where it will not do.
pub(super) fn chosen(fields: &Fields, form: &mut Typed, email: &str) -> Option<String> {
    let (password, again) = (typed(fields, "new_password"), typed(fields, "again"));
    let length = password.chars().count();
    if length < SHORTEST {
        form.refuse("new_password", format!("has {length} characters; at least {SHORTEST} are needed"));
    } else if length > LONGEST {
        form.refuse("new_password", format!("has {length} characters; at most {LONGEST} are taken"));
    } else if password.eq_ignore_ascii_case(email) {
        form.refuse("new_password", "is the e-mail address");
    } else if password.chars().all(|c| password.starts_with(c)) {
        form.refuse("new_password", "is one character over and over");
    }
    if form.error("new_password").is_none() && password != again {
        form.refuse("again", "is not the same");
    }
    form.fine().then_some(password)
}
