"""The words of access: passcodes, signing in, tokens, and what a role may not do."""

ACCESS_SENTENCES = {
    "passcode_of_other_role": "The other role has this passcode already; choose another one.",
    "wrong_passcode": "This passcode is wrong.",
    "too_many_tokens": "There are too many tokens; take one back first.",
    "an_address": "an address in numbers, such as 192.168.0.10",
    "a_passcode": "a passcode for the bench",
    "set_passcode": "Set it with lone-pike passcode --data FILE.",
    "wait_after_tries": "Too many wrong passcodes came from this address. Try again in {wait} s; nobody else waits.",
    "not_at_counter": "The counter can look, start jobs, and note what is wrong. Sign in at the bench for the rest.",
    "sign_in_first": "Sign in first. Nothing was changed; go back once you are signed in, and send it again.",
    "token_first": "This needs a token that the bench made in Shop.",
}
