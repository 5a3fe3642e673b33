#!/usr/bin/env python3
"""token.py ISSUER SERVICE: signs Otto in at the stand-in issuer as a browser would, and prints his access token."""
import base64
import hashlib
import json
import re
import secrets
import sys
from http.cookiejar import CookieJar
from urllib.parse import parse_qs, urlencode, urlparse
from urllib.request import HTTPCookieProcessor, HTTPRedirectHandler, Request, build_opener

issuer, service = sys.argv[1:]
back = service + '/sign-in/from/harbour'
verifier = secrets.token_urlsafe(48)
challenge = base64.urlsafe_b64encode(hashlib.sha256(verifier.encode()).digest()).rstrip(b'=').decode()


class UntilBack(HTTPRedirectHandler):
    """Follows the issuer, and stops where it would lead to the service."""

    def redirect_request(self, req, fp, code, msg, headers, newurl):
        if newurl.startswith(service):
            raise StopIteration(newurl)
        return super().redirect_request(req, fp, code, msg, headers, newurl)


browser = build_opener(HTTPCookieProcessor(CookieJar()), UntilBack)
browser.addheaders = [('Accept', 'text/html')]
asked = urlencode({
    'response_type': 'code',
    'client_id': 'nodley',
    'scope': 'openid profile email',
    'redirect_uri': back,
    'state': 'bench',
    'code_challenge': challenge,
    'code_challenge_method': 'S256',
})
page = browser.open(f'{issuer}/oauth2/authorize?{asked}').read().decode()
csrf = re.search(r'name="_csrf" value="([^"]*)"', page).group(1)
try:
    browser.open(f'{issuer}/sign-in', urlencode({'_csrf': csrf, 'username': 'otto', 'password': ''}).encode())
    sys.exit('The issuer did not lead back.')
except StopIteration as led:
    code = parse_qs(urlparse(str(led.value)).query)['code'][0]
exchange = Request(
    f'{issuer}/oauth2/token',
    urlencode({
        'grant_type': 'authorization_code',
        'code': code,
        'redirect_uri': back,
        'code_verifier': verifier,
    }).encode(),
    {'Authorization': 'Basic ' + base64.b64encode(b'nodley:a-secret-for-the-demo').decode()},
)
print(json.load(browser.open(exchange))['access_token'])
