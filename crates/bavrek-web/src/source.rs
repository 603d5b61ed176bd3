//! Where a request comes from.

use std::convert::Infallible;
use std::net::{IpAddr, Ipv6Addr, SocketAddr};

use axum::extract::{ConnectInfo, FromRequestParts};
use axum::http::request::Parts;

use crate::state::App;

/// The network address that guesses are counted for: of an IPv4 address all of it, of an IPv6 address the half that one household
/// or office has. Behind a proxy it is the last address that the proxy names, which nobody but the proxy can write.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Source(pub(crate) String);

impl FromRequestParts<App> for Source {
    type Rejection = Infallible;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Infallible> {
        let named = parts.headers.get_all("x-forwarded-for").iter().filter_map(|h| h.to_str().ok()).next_back();
        let proxied =
            named.filter(|_| app.behind_proxy).and_then(|named| named.rsplit(',').next()?.trim().parse().ok());
        let direct = || parts.extensions.get::<ConnectInfo<SocketAddr>>().map(|ConnectInfo(peer)| peer.ip());
        Ok(Self(proxied.or_else(direct).map_or_else(|| "unknown".to_owned(), counted)))
    }
}

fn counted(address: IpAddr) -> String {
    match address.to_canonical() {
        IpAddr::V4(four) => four.to_string(),
        IpAddr::V6(six) => {
            let [a, b, c, d, ..] = six.segments();
            Ipv6Addr::new(a, b, c, d, 0, 0, 0, 0).to_string()
        }
    }
}

#[cfg(test)]
mod tests {
    use super::counted;
    use rstest::rstest;

    #[rstest]
    #[case("192.0.2.7", "192.0.2.7")]
    #[case("::ffff:192.0.2.7", "192.0.2.7")]
    #[case("2001:db8:1:2:3:4:5:6", "2001:db8:1:2::")]
    #[case("2001:db8:1:2:ffff::1", "2001:db8:1:2::")]
    fn a_household_is_one_source(#[case] address: &str, #[case] source: &str) {
        assert_eq!(counted(address.parse().unwrap()), source);
    }
}
