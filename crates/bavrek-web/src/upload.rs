//! Files that are sent with a form.

use axum::body::Bytes;
use axum::http::{HeaderMap, header};
use futures_util::stream;

/// Whether a form is sent with files.
pub(crate) fn is_sent(headers: &HeaderMap) -> bool {
    boundary(headers).is_some()
}

fn boundary(headers: &HeaderMap) -> Option<String> {
    let kind = headers.get(header::CONTENT_TYPE)?.to_str().ok()?;
    multer::parse_boundary(kind).ok()
}

/// The fields of such a form by name, files as they are; none where it cannot be read.
pub(crate) async fn fields(headers: &HeaderMap, body: Bytes) -> Option<Vec<(String, Bytes)>> {
    let boundary = boundary(headers)?;
    let all = stream::once(async move { Ok::<_, std::convert::Infallible>(body) });
    let mut form = multer::Multipart::new(all, boundary);
    let mut fields = Vec::new();
    while let Some(field) = form.next_field().await.ok()? {
        let name = field.name().unwrap_or_default().to_owned();
        fields.push((name, field.bytes().await.ok()?));
    }
    Some(fields)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[tokio::test]
    async fn a_form_with_a_file_is_read_and_half_of_one_is_not() {
        let mut headers = HeaderMap::new();
        headers.insert(header::CONTENT_TYPE, "multipart/form-data; boundary=x".parse().unwrap());
        let form = "--x\r\nContent-Disposition: form-data; name=\"csrf\"\r\n\r\nabc\r\n--x\r\n\
                    Content-Disposition: form-data; name=\"file\"; filename=\"a.json\"\r\n\r\n{}\r\n--x--\r\n";
        let read = fields(&headers, Bytes::from(form)).await.unwrap();
        assert_eq!(read, [("csrf".into(), Bytes::from("abc")), ("file".into(), Bytes::from("{}"))]);
        assert_eq!(fields(&headers, Bytes::from(&form[..60])).await, None);
        headers.insert(header::CONTENT_TYPE, "application/json".parse().unwrap());
        assert!(!is_sent(&headers));
    }
}
