"""Lists of people: tables with a header of any spreadsheet, and the users and enrollments of OneRoster."""

import pytest

from cubedrill.formats.roster import MOST_ROWS, SIGN_IN, Entry, RosterError, checked, read_roster

HEAD = "Name;Sign-in;E-mail;Outside id\n"


def entries(text, name="class.csv", encoding="utf-8"):
    return read_roster([(name, text.encode(encoding))]).entries


@pytest.mark.parametrize("delimiter", [",", ";", "\t"])
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "cp1252"])
@pytest.mark.parametrize("end", ["\n", "\r\n"])
def test_a_table_is_read_as_spreadsheets_write_it(delimiter, encoding, end):
    lines = ["name|sign-in|e-mail|outside id", "Zoë Quayle|ZOE|zoe@harbour.example|S-17", "", "Ole Büttner|ole||"]
    text = end.join(lines).replace("|", delimiter)
    first, second = entries(text, encoding=encoding)
    assert first == Entry("class.csv, line 2", "Zoë Quayle", "zoe", "zoe@harbour.example", "S-17")
    assert second == Entry("class.csv, line 4", "Ole Büttner", "ole")


def test_a_cell_in_quotes_may_hold_the_delimiter_and_lines():
    (row,) = entries('name,sign-in\n"Quayle, ""Zoë""",zoe\n')
    assert row.name == 'Quayle, "Zoë"'


@pytest.mark.parametrize(
    "heads", ["First name,Last name", "Given Name,Family Name", "givenName,familyName", "first_name,surname"]
)
def test_a_name_in_two_columns_is_put_together(heads):
    (row,) = entries(f"{heads}\nZoë,Quayle\n")
    assert row.name == "Zoë Quayle"


@pytest.mark.parametrize(
    ("row", "says"),
    [
        (";zoe;;", "name is missing"),
        ("Zoë Quayle;two words;;", "not a valid username"),
        ("Zoë Quayle;-zoe;;", "not a valid username"),
        ("Zoë Quayle;zoë;;", "not a valid username"),
        ("Zoë Quayle;" + "z" * 101 + ";;", "not a valid username"),
        ("Zoë Quayle;zoe;no address;", "not an e-mail address"),
        ("Zoë Quayle;zoe;zoe@harbour;", "not an e-mail address"),
        ("Z" * 201 + ";zoe;;", "longer than"),
        ("Zoë Quayle;zoe;;" + "9" * 201, "longer than"),
        ("Zo\x07 Quayle;zoe;;", "cannot be printed"),
    ],
)
def test_a_row_that_cannot_be_says_why_and_the_others_stay(row, says):
    bad, good = entries(f"{HEAD}{row}\nOle Büttner;ole;;\n")
    assert says in bad.why
    assert bad.why.endswith(".")
    assert (good.name, good.why) == ("Ole Büttner", "")


@pytest.mark.parametrize("column", ["sign-in", "e-mail", "outside id"])
def test_of_two_rows_that_are_the_same_person_the_second_is_refused(column):
    value = {"sign-in": "zoe", "e-mail": "zoe@harbour.example", "outside id": "S-17"}[column]
    first, second, third = entries(f"name,{column}\nZoë Quayle,{value}\nZoe Q,{value.upper()}\nOle,\n")
    assert (first.why, third.why) == ("", "")
    assert "class.csv, line 2." in second.why


def test_a_refused_row_takes_no_sign_in_from_the_next():
    assert [row.why == "" for row in entries("name,sign-in\n,zoe\nZoë,zoe\n")] == [False, True]


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "is empty"),
        (b"\n \n", "is empty"),
        (b"sign-in,e-mail\nzoe,\n", "no name column"),
        (b"name,full name\na,b\n", "two columns for the same"),
        (b'name\n"half', "not a readable table"),
        (b"name\n" + b"a\n" * (MOST_ROWS + 1), "more than"),
    ],
)
def test_a_file_that_is_no_list_is_refused_in_a_sentence(content, says):
    with pytest.raises(RosterError, match=says) as refused:
        read_roster([("class.csv", content)])
    assert str(refused.value).endswith(".")


def test_a_column_that_is_not_known_is_said():
    assert read_roster([("a.csv", b"name,shoe size\nZoe,38\n")]).notes == ("a.csv: not used: shoe size.",)


# Fields of 1EdTech OneRoster 1.2, CSV binding: users.csv and enrollments.csv, from memory.
USERS = (
    '"sourcedId","status","dateLastModified","enabledUser","username","userIds","givenName","familyName","middleName",'
    '"identifier","email"\n'
    '"u1","active","2026-08-01","true","zoe.q","","Zoë","Quayle","","","zoe@harbour.example"\n'
    '"u2","active","2026-08-01","true","ole.b","","Ole","Büttner","","",""\n'
    '"u3","tobedeleted","2026-08-01","true","ida.r","","Ida","Rook","","",""\n'
    '"u4","active","2026-08-01","false","ben.s","","Ben","Slip","","",""\n'
    '"u5","active","2026-08-01","true","eve.t","","Eve","Tarn","","",""\n'
)
ENROLLED = (
    '"sourcedId","status","dateLastModified","classSourcedId","schoolSourcedId","userSourcedId","role","primary"\n'
    '"e1","active","","c1","s","u1","student","false"\n'
    '"e2","active","","c1","s","u2","teacher","true"\n'
    '"e3","active","","c1","s","u3","student","false"\n'
    '"e4","active","","c1","s","u4","student","false"\n'
    '"e5","active","","c1","s","u9","student","false"\n'
    '"e6","tobedeleted","","c1","s","u5","student","false"\n'
    '"e7","active","","c1","s","u5","aide","false"\n'
)


def test_one_roster_says_who_is_enrolled_and_as_what():
    files = [("users.csv", USERS.encode()), ("enrollments.csv", ENROLLED.encode())]
    rows = {row.outside_id: row for row in read_roster(files[::-1]).entries}
    assert (rows["u1"].name, rows["u1"].sign_in, rows["u1"].role, rows["u1"].why) == (
        "Zoë Quayle",
        "zoe.q",
        "student",
        "",
    )
    assert (rows["u2"].role, rows["u2"].why) == ("instructor", "")
    assert "for deletion" in rows["u3"].why
    assert "not enabled" in rows["u4"].why
    assert "aide" in rows["u5"].why
    assert "does not list this person" in rows["u9"].why


def test_of_more_classes_one_has_to_be_chosen():
    two = ENROLLED + '"e8","active","","c2","s","u5","student","false"\n'
    files = [("users.csv", USERS.encode()), ("enrollments.csv", two.encode())]
    assert read_roster(files).entries == ()
    assert read_roster(files).classes == ("c1", "c2")
    assert [row.sign_in for row in read_roster(files, "c2").entries] == ["eve.t"]


def test_usernames_are_checked_by_the_rule_that_the_page_states():
    assert all(SIGN_IN.fullmatch(good) for good in ("a", "zoe", "0zoe", "zoe.q_u-a+1@x"))
    (row,) = checked([Entry("row 1", "Zoë", "zoe q")])
    assert "not a valid username" in row.why
