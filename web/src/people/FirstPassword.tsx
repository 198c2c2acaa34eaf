// The first sign-in with a password that was given: one's own is chosen before all else.
import { usePerson, useSignOut } from "../ui/session";
import { DoorPage } from "./DoorPage";
import { PasswordForm } from "./PasswordForm";

export function FirstPassword() {
  const person = usePerson();
  const signOut = useSignOut();
  return (
    <DoorPage
      title={`Welcome, ${person.name.split(" ")[0]}`}
      text="The password on your slip works only once. Choose a password of your own to continue."
    >
      <PasswordForm done="Save password" onDone={() => undefined} />
      <button type="button" onClick={signOut} className="mt-4 text-plum underline">
        Not you? Sign out
      </button>
    </DoorPage>
  );
}
